// Bundles the run of faults and starts it: npm run faults -- [minutes]
import { spawnSync } from 'node:child_process';
import { build } from 'esbuild';

const outfile = 'node_modules/.cache/understudy/faults.mjs';
await build({
  entryPoints: ['tests/faults/run.ts'],
  outfile,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  logLevel: 'warning',
});
const { status } = spawnSync(process.execPath, [outfile, ...process.argv.slice(2)], { stdio: 'inherit' });
process.exit(status ?? 1);
