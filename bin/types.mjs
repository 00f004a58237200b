// Type-checks every room by its own rules (core has neither DOM nor Node), two at a time.
import { spawn } from 'node:child_process';

const projects = ['core', 'storefront', 'server', 'client', 'shop', 'simulators', 'demo', 'cli', 'bench', 'web', '.'];
let failed = false;

async function work() {
  for (let project = projects.shift(); project; project = projects.shift()) {
    const child = spawn('node_modules/.bin/tsc', ['-p', project], { stdio: 'inherit' });
    const code = await new Promise((resolve) => child.once('exit', resolve));
    failed ||= code !== 0;
  }
}
await Promise.all([work(), work()]);
process.exit(failed ? 1 : 0);
