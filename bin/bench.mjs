// Bundles a bench and runs it: npm run bench (the decision), npm run bench embed (the storefront script, needs TEST_PG_URL).
import { spawnSync } from 'node:child_process';
import { build } from 'esbuild';

const [which = 'main'] = process.argv.slice(2);
await build({
  entryPoints: [`bench/${which}.ts`],
  outfile: `dist/bench-${which}.mjs`,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
});
process.exitCode = spawnSync(process.execPath, [`dist/bench-${which}.mjs`], { stdio: 'inherit' }).status ?? 1;
