// Builds everything that runs into dist/, and nothing when it is there already for these sources.
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

process.chdir(fileURLToPath(new URL('..', import.meta.url)));
const ROOMS = ['core', 'server', 'web', 'embed', 'picker', 'shop', 'demo', 'bin'];
const STAMP = 'dist/built-for';

const hash = createHash('sha256').update(readFileSync('package-lock.json'));
for (const file of ROOMS.flatMap((room) => filesIn(room))) hash.update(file).update(readFileSync(file));
const wanted = hash.digest('hex');
if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === wanted) process.exit(0);

console.error('Building …');
rmSync('dist', { recursive: true, force: true });
mkdirSync('dist', { recursive: true });
const [esbuild, vite] = await Promise.all([import('esbuild'), import('vite')]);

const program = (entry, outfile) =>
  esbuild.build({
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    sourcemap: true,
    logLevel: 'warning',
  });
const pageScript = (entry, outfile) =>
  esbuild.build({
    entryPoints: [entry],
    outfile,
    bundle: true,
    format: 'iife',
    target: ['es2022'],
    minify: true,
    logLevel: 'warning',
  });
await Promise.all([
  program('server/main.ts', 'dist/server/main.js'),
  program('shop/main.ts', 'dist/shop/main.js'),
  program('demo/seed.ts', 'dist/demo/seed.js'),
  pageScript('embed/embed.ts', 'dist/server/embed.js'),
  pageScript('picker/picker.ts', 'dist/server/picker.js'),
  vite.build({ root: 'web', logLevel: 'warn', build: { outDir: '../dist/server/web', emptyOutDir: true } }),
]);
cpSync('server/db/migrations', 'dist/server/migrations', { recursive: true });
cpSync('shop/assets', 'dist/shop/assets', { recursive: true });
cpSync('demo/data', 'dist/demo/data', { recursive: true });
writeFileSync(STAMP, wanted);

function filesIn(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile() && !/\.test\.tsx?$/.test(entry.name))
    .map((entry) => `${entry.parentPath}/${entry.name}`)
    .sort();
}
