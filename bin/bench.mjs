// Bundles the benches and runs them: npm run bench.
import { spawnSync } from 'node:child_process';
import { build } from 'esbuild';

await build({
  entryPoints: ['bench/main.ts'],
  outfile: 'dist/bench.mjs',
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
});
process.exitCode = spawnSync(process.execPath, ['dist/bench.mjs'], { stdio: 'inherit' }).status ?? 1;
