// Builds everything that runs into dist/, and nothing when it is there already for these sources.
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';

process.chdir(fileURLToPath(new URL('..', import.meta.url)));
const ROOMS = ['core', 'server', 'web', 'storefront', 'client', 'shop', 'simulators', 'demo', 'cli', 'bin'];
const STAMP = 'dist/built-for';
/** The client is built into its own folder, from which npm installs it. */
const CLIENT = 'client/dist';

const hash = createHash('sha256').update(readFileSync('package-lock.json'));
for (const file of ROOMS.flatMap((room) => filesIn(room))) hash.update(file).update(readFileSync(file));
const wanted = hash.digest('hex');
if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === wanted) process.exit(0);

console.error('Building …');
for (const folder of ['dist', CLIENT]) rmSync(folder, { recursive: true, force: true });
mkdirSync('dist', { recursive: true });
// Tests build too, and what they build is what is looked at and measured.
process.env.NODE_ENV = 'production';
const [esbuild, vite, terser, { default: ts }] = await Promise.all([
  import('esbuild'),
  import('vite'),
  import('terser'),
  import('typescript'),
]);

const program = (entry, outfile, more = {}) =>
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
    ...more,
  });
// Threads start often, and from one file they start twice as fast as from hundreds.
const thread = (entry, outfile) =>
  program(entry, outfile, {
    packages: 'bundle',
    external: ['canvas', 'pg-native', 'playwright-core'],
    // Packages written for CommonJS need a require.
    banner: { js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);" },
  });
const pageScript = async (entry, outfile, format = 'iife') => {
  const { outputFiles } = await esbuild.build({
    entryPoints: [entry],
    bundle: true,
    format,
    target: ['es2022'],
    write: false,
    logLevel: 'warning',
  });
  // Smaller by some percent than esbuild's own, which counts on every page of a shop.
  const { code } = await terser.minify(outputFiles[0].text, {
    ecma: 2020,
    module: format === 'esm',
    toplevel: true,
    // Several of these are worth their bytes only after gzip.
    compress: {
      passes: 3,
      unsafe: true,
      lhs_constants: false,
      unsafe_arrows: true,
      inline: 1,
      hoist_funs: true,
      pure_getters: true,
      unsafe_methods: true,
    },
    format: { comments: false },
  });
  mkdirSync(dirname(outfile), { recursive: true });
  writeFileSync(outfile, code);
};
await Promise.all([
  program('server/main.ts', 'dist/server/main.js'),
  thread('server/rehearsal/worker.ts', 'dist/server/analyst.js'),
  thread('server/imports/worker.ts', 'dist/server/importer.js'),
  thread('server/pageMap/pageReaderWorker.ts', 'dist/server/pageReader.js'),
  thread('server/pageMap/pageDrawerWorker.ts', 'dist/server/pageDrawer.js'),
  program('shop/main.ts', 'dist/shop/main.js'),
  program('client/understudy.ts', `${CLIENT}/understudy.js`, { sourcemap: false }),
  program('simulators/main.ts', 'dist/simulators/main.js'),
  program('demo/seed.ts', 'dist/demo/seed.js'),
  program('cli/main.ts', 'dist/cli/understudy.js'),
  pageScript('storefront/script/embed.ts', 'dist/server/embed.js'),
  pageScript('storefront/script/owner.ts', 'dist/server/owner.js', 'esm'),
  pageScript('storefront/script/later.ts', 'dist/server/later.js', 'esm'),
  pageScript('storefront/dialogs/dialogs.ts', 'dist/server/dialogs.js', 'esm'),
  pageScript('storefront/fitting/fitting.ts', 'dist/server/fitting.js', 'esm'),
  pageScript('storefront/picker/picker.ts', 'dist/server/picker.js'),
  vite.build({ root: 'web', logLevel: 'warn', build: { outDir: '../dist/server/web', emptyOutDir: true } }),
]);
const { outputText: declarations } = ts.transpileDeclaration(readFileSync('client/understudy.ts', 'utf8'), {
  compilerOptions: { target: ts.ScriptTarget.ES2022, module: ts.ModuleKind.NodeNext, isolatedDeclarations: true },
});
writeFileSync(`${CLIENT}/understudy.d.ts`, declarations);
cpSync('server/db/migrations', 'dist/server/migrations', { recursive: true });
cpSync('server/pageMap/keepPriority.sh', 'dist/server/keepPriority.sh');
cpSync('shop/assets', 'dist/shop/assets', { recursive: true });
cpSync('demo/data', 'dist/demo/data', { recursive: true });
writeFileSync(STAMP, wanted);

function filesIn(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile() && !/\.test\.tsx?$/.test(entry.name))
    .map((entry) => `${entry.parentPath}/${entry.name}`)
    .filter((file) => !file.startsWith(CLIENT))
    .sort();
}
