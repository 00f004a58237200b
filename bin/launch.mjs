// Starts the server, fills in the demo, starts the sample shop, and stops all of it together. A program that ends by itself
// is started again, and the others go on.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import { clearTimeout, setTimeout } from 'node:timers';
import { setTimeout as pause } from 'node:timers/promises';

const { PORT, SHOP_PORT, SIMULATORS_PORT, SIMULATORS_SMTP_PORT, UNDERSTUDY_BARE, DEMO_DATA } = process.env;
const serverUrl = process.env.PUBLIC_URL ?? `http://127.0.0.1:${PORT}`;
const shopUrl = `http://127.0.0.1:${SHOP_PORT}`;
const bare = Boolean(UNDERSTUDY_BARE);
/** Running programs by their file. */
const running = new Map();
let stopping = false;
/** Begins again after so long, doubled each time, up to the most; whoever ran well for longer than that begins anew. */
const [AGAIN_MS, MOST_MS] = [250, 30_000];
/** Time to stop, in ms; a program that takes longer is killed. */
const STOP_MS = 12_000;
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stop(0));

// Mail goes to the simulator, unless a real server for it is named.
const simulators = bare ? null : keep('dist/simulators/main.js', { SIMULATORS_PORT, SIMULATORS_SMTP_PORT });
if (simulators) await until(`http://127.0.0.1:${SIMULATORS_PORT}/health`, simulators);
const smtpUrl = process.env.SMTP_URL ?? (bare ? '' : `smtp://127.0.0.1:${SIMULATORS_SMTP_PORT}`);

const setupToken = process.env.UNDERSTUDY_SETUP_TOKEN ?? randomBytes(24).toString('base64url');
const server = keep('dist/server/main.js', {
  UNDERSTUDY_SETUP_TOKEN: setupToken,
  LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
  SMTP_URL: smtpUrl,
  // The sample shop's pages are checked, and the simulators told, although they are on this machine.
  UNDERSTUDY_PRIVATE_HOSTS:
    process.env.UNDERSTUDY_PRIVATE_HOSTS ?? (bare ? '' : `127.0.0.1:${SHOP_PORT},127.0.0.1:${SIMULATORS_PORT}`),
});
await until(`${serverUrl}/ready`, server);

if (bare) {
  const { setUp } = JSON.parse(await until(`${serverUrl}/api/session`, server));
  print([
    ['Understudy', serverUrl],
    ...(setUp ? [] : [['Make the first owner', `${serverUrl}/setup?token=${setupToken}`]]),
  ]);
  if (setUp)
    console.log(
      [
        existsSync(`${DEMO_DATA}`)
          ? '  There is data here already: that of the demo. Sign in as olive@quillfern.example (tansy-and-thyme).'
          : '  There is data here already: the shop is set up. Sign in as you did.',
        '  For a shop of its own, beside this one:   UNDERSTUDY_DATA=.my-shop bin/start --bare',
        '  To start over, and lose what is here:     bin/start --fresh --bare',
        '',
      ].join('\n'),
    );
} else {
  const seed = start('dist/demo/seed.js', {
    UNDERSTUDY_URL: serverUrl,
    UNDERSTUDY_SETUP_TOKEN: setupToken,
    DEMO_DATA,
    DEMO_RANGE: 'whole',
    SHOP_URL: shopUrl,
    SIMULATORS_URL: `http://127.0.0.1:${SIMULATORS_PORT}`,
  });
  if ((await ended(seed)) !== 0) await stop(1);
  const shop = keep('dist/shop/main.js', {
    SHOP_DATA: DEMO_DATA,
    SHOP_PORT,
    UNDERSTUDY_URL: serverUrl,
    PAYMENT_URL: `http://127.0.0.1:${SIMULATORS_PORT}`,
  });
  await until(`${shopUrl}/health`, shop);
  print([
    ['Understudy', serverUrl],
    ['  sign in as', 'olive@quillfern.example'],
    ['  password', 'tansy-and-thyme'],
    ['Sample shop', shopUrl],
    ['Messages that arrived', `http://127.0.0.1:${SIMULATORS_PORT}`],
    ['Calls', `${serverUrl}/api/docs`],
  ]);
}

/** Runs a program once. */
function start(file, env) {
  // In a group of its own, so that Ctrl-C reaches it through us alone and in order.
  const child = spawn(process.execPath, ['--enable-source-maps', file], {
    env: { ...process.env, ...env },
    // By its channel a program knows that whoever started it is gone, however it ended.
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
  });
  running.set(file, child);
  child.once('exit', () => {
    if (running.get(file) === child) running.delete(file);
  });
  return child;
}

/** Runs a program, and again whenever it ends without being told to, once it has served. */
function keep(file, env) {
  const program = { child: start(file, env), hasServed: false };
  let wait = AGAIN_MS;
  const watch = () => {
    const began = Date.now();
    program.child.once('exit', async (code, signal) => {
      if (stopping) return;
      if (!program.hasServed) return void stop(1);
      wait = Date.now() - began > MOST_MS ? AGAIN_MS : Math.min(wait * 2, MOST_MS);
      console.error(`${file} ended (${signal ?? code}) and is started again in ${wait / 1000} s.`);
      await pause(wait);
      if (stopping) return;
      program.child = start(file, env);
      watch();
    });
  };
  watch();
  return program;
}

function ended(child) {
  return new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) resolve(child.exitCode);
    else child.once('exit', resolve);
  });
}

/** Waits until a program serves, and answers with what it says. */
async function until(url, program) {
  for (;;) {
    if (stopping) await new Promise(() => undefined);
    const answer = await fetch(url)
      .then((response) => (response.ok ? response.text() : null))
      .catch(() => null);
    if (answer !== null) {
      program.hasServed = true;
      return answer;
    }
    await pause(50);
  }
}

async function stop(code) {
  if (stopping) return;
  stopping = true;
  for (const child of [...running.values()].reverse()) {
    child.kill('SIGTERM');
    const timer = setTimeout(() => child.kill('SIGKILL'), STOP_MS);
    await ended(child);
    clearTimeout(timer);
  }
  process.exit(code);
}

function print(lines) {
  const width = Math.max(...lines.map(([name]) => name.length));
  console.log(
    `\n${lines.map(([name, value]) => `  ${name.padEnd(width)}   ${value}`).join('\n')}\n\n  Ctrl-C stops everything.\n`,
  );
}
