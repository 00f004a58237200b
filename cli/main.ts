import { run } from './run.ts';

process.exitCode = await run(process.argv.slice(2), process.env, {
  out: (text) => process.stdout.write(`${text}\n`),
  error: (text) => process.stderr.write(`${text}\n`),
});
