import { readdirSync, readFileSync } from 'node:fs';
import { setTimeout as delay } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import type { Browser, BrowserServer, Page, Route } from 'playwright-core';
import type { NotDrawn } from '#core/contract/pageMapCalls.ts';
import type { Config } from '../config/config.ts';
import { readResource } from '../http/callOut.ts';

/** A page counts as drawn once it has not changed for QUIET_MS, or after MOST_MS. */
const QUIET_MS = 500;
const MOST_MS = 5_000;
/**
 * Limits that a page cannot influence, since drawing shares the machine with shoppers' requests. Processor time has its own
 * limit because a harmless page can take long on a busy machine.
 */
const MOST_PROCESSOR_S = 12;
const DEADLINE_MS = 60_000;
const MOST_MEMORY = 1_000_000_000;
const MOST_REQUESTS = 300;
const MOST_CHARACTERS = 4_000_000;
const LOOK_MS = 100;
/** Resource types that do not affect a page's markup, so they are not fetched. */
const UNSEEN = new Set(['image', 'media', 'font', 'ping', 'prefetch']);

/**
 * No way out but ours: what the pages ask for is asked by `readResource`, which keeps to public addresses; everything else
 * (sockets, lookups ahead of time, what is sent without a request) meets a proxy that is not there, loopback included.
 */
const NO_WAY_OUT = [
  '--proxy-server=http://127.0.0.1:9',
  '--proxy-bypass-list=<-loopback>',
  '--host-resolver-rules=MAP * ~NOTFOUND',
  '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
];

export type Drawing = Pick<Config, 'publicUrl' | 'privateHosts'> & { readonly chromium: string };
export type Drawn = { readonly html: string } | { readonly notDrawn: NotDrawn };

/** A running browser, with its process so that it can be killed. */
interface Running {
  readonly server: BrowserServer;
  readonly browser: Browser;
  readonly pid: number;
}

/** Draws pages in a browser, started with the first page and restarted after one that had to be killed. */
export class Drawer {
  private running: Running | null = null;

  constructor(private readonly how: Drawing) {}

  /**
   * @param html of the page, as it was sent
   * @returns the page after its scripts have run, shadow roots in it as markup; null where no browser starts
   */
  async draw(address: URL, html: string): Promise<Drawn | null> {
    this.running ??= await launch(this.how.chromium);
    if (!this.running) return null;
    const { browser, pid } = this.running;
    const over = new AbortController();
    const drawing = drawn(browser, address, html, this.how).catch(() => ENDED);
    const outcome = await Promise.race([drawing, limited(pid, over.signal)]);
    over.abort();
    // Kill the browser: the page may never stop.
    if ('notDrawn' in outcome) await this.close();
    return outcome;
  }

  async close(): Promise<void> {
    const ending = this.running;
    this.running = null;
    if (ending) await kill(ending);
  }
}

const ENDED: Drawn = { notDrawn: 'ended' };

/** Starts the browser at the low priority of this thread, since shoppers come first. */
const LAUNCHER = fileURLToPath(new URL('keepPriority.sh', import.meta.url));

async function launch(executablePath: string): Promise<Running | null> {
  const { chromium } = await import('playwright-core');
  try {
    // Chromium does not run in its sandbox as root.
    const server = await chromium.launchServer({
      executablePath: LAUNCHER,
      env: { ...process.env, PROGRAM: executablePath },
      args: NO_WAY_OUT,
      timeout: DEADLINE_MS,
      chromiumSandbox: process.getuid?.() !== 0,
    });
    const pid = server.process().pid!;
    return { server, browser: await chromium.connect(server.wsEndpoint()), pid };
  } catch {
    return null;
  }
}

/** Ends a browser and all that it started. Playwright starts it as the leader of a process group. */
async function kill({ server, pid }: Running): Promise<void> {
  try {
    process.kill(-pid, 'SIGKILL');
  } catch {
    // The process has ended by itself.
  }
  await server.kill();
}

/** Resolves once the browser exceeds a page's limit on time or memory. */
async function limited(pid: number, signal: AbortSignal): Promise<Drawn> {
  const until = performance.now() + DEADLINE_MS;
  const mostSeconds = usageOfGroup(pid).seconds + MOST_PROCESSOR_S;
  while (!signal.aborted) {
    const { bytes, seconds } = usageOfGroup(pid);
    if (performance.now() > until || seconds > mostSeconds) return { notDrawn: 'tooSlow' };
    if (bytes > MOST_MEMORY) return { notDrawn: 'tooMuchMemory' };
    await delay(LOOK_MS, undefined, { signal }).catch(() => undefined);
  }
  return ENDED;
}

/** Clock ticks per second in proc(5): USER_HZ, which is 100 on every architecture that Chromium runs on. */
const TICKS = 100;

/** Adds up memory and processor time of the running processes in a group (Linux, proc(5)); returns zeros elsewhere. */
function usageOfGroup(group: number): { bytes: number; seconds: number } {
  const usage = { bytes: 0, seconds: 0 };
  let names: string[] = [];
  try {
    names = readdirSync('/proc');
  } catch {
    // Without /proc, only elapsed time is limited.
  }
  for (const name of names) {
    if (!/^\d+$/.test(name)) continue;
    try {
      const stat = readFileSync(`/proc/${name}/stat`, 'utf8');
      // Counts fields from after the process name, which may contain spaces: 2 is the group, 11 and 12 are ticks.
      const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
      if (Number(fields[2]) !== group) continue;
      usage.seconds += (Number(fields[11]) + Number(fields[12])) / TICKS;
      const [, kB = '0'] = /^RssAnon:\s+(\d+) kB$/m.exec(readFileSync(`/proc/${name}/status`, 'utf8')) ?? [];
      usage.bytes += Number(kB) * 1024;
    } catch {
      // The process has ended meanwhile.
    }
  }
  return usage;
}

async function drawn(browser: Browser, address: URL, html: string, outside: Omit<Drawing, 'chromium'>): Promise<Drawn> {
  const context = await browser.newContext({ serviceWorkers: 'block', viewport: { width: 1280, height: 900 } });
  const page = await context.newPage();
  await context.routeWebSocket(/./, (socket) => void socket.close());
  await context.addInitScript(STAYING);
  let isSent = false;
  let requests = 0;
  await context.route(/./, (route) => route.abort());
  await page.route(/./, (route) => {
    const request = route.request();
    requests += 1;
    if (!request.isNavigationRequest() || request.frame() !== page.mainFrame())
      return requests > MOST_REQUESTS ? route.abort() : fulfil(route, outside);
    // A navigation that `STAYING` could not cancel. A 204 keeps the page; an error would replace it with the browser's own.
    if (isSent) return route.fulfill({ status: 204 });
    isSent = true;
    return route.fulfill({ contentType: 'text/html; charset=utf-8', body: html });
  });
  await page.goto(address.href, { waitUntil: 'commit', timeout: DEADLINE_MS });
  const text = await apart(page, `${SETTLED}.then(() => ${CONTENT})`);
  await context.close();
  return text.length > MOST_CHARACTERS ? { notDrawn: 'tooLong' } : { html: text };
}

/** Evaluates an expression in an isolated world, out of reach of timers and prototypes that the page replaced. */
async function apart(page: Page, expression: string): Promise<string> {
  const session = await page.context().newCDPSession(page);
  const { frameTree } = await session.send('Page.getFrameTree');
  const { executionContextId } = await session.send('Page.createIsolatedWorld', { frameId: frameTree.frame.id });
  const { result } = await session.send('Runtime.evaluate', {
    expression,
    contextId: executionContextId,
    awaitPromise: true,
    returnByValue: true,
  });
  return String(result.value);
}

async function fulfil(route: Route, { publicUrl, privateHosts }: Omit<Drawing, 'chromium'>) {
  const request = route.request();
  const url = new URL(request.url());
  // A page is read as it is without us.
  const isOurs = url.origin === new URL(publicUrl).origin;
  if (isOurs || request.method() !== 'GET' || UNSEEN.has(request.resourceType())) return route.abort();
  const found = await readResource(url, privateHosts).catch(() => null);
  if (!found) return route.abort();
  const { status, type, body } = found;
  return route.fulfill({
    status,
    headers: { 'Content-Type': type, 'Access-Control-Allow-Origin': '*' },
    body: Buffer.from(body),
  });
}

/** Runs in every page, as text since the server lacks DOM types: prevents navigation and reloads. */
const STAYING = `navigation.addEventListener('navigate', (event) => {
  if (event.cancelable && !event.destination.sameDocument) event.preventDefault();
})`;

/** Runs in the page: resolves when it is read and nothing has changed for a while. */
const SETTLED = `new Promise((resolve) => {
  let timer;
  const wait = () => {
    clearTimeout(timer);
    if (document.readyState !== 'loading') timer = setTimeout(resolve, ${QUIET_MS});
  };
  const start = () => {
    setTimeout(resolve, ${MOST_MS});
    wait();
  };
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', start);
  else start();
  setTimeout(resolve, ${2 * MOST_MS});
  new MutationObserver(wait).observe(document, { childList: true, subtree: true, attributes: true });
})`;

/** Runs in the page: the document as markup, with open shadow roots as declarative ones. */
const CONTENT = `(() => {
  const roots = (tree) =>
    [...tree.querySelectorAll('*')].flatMap(({ shadowRoot }) => (shadowRoot ? [shadowRoot, ...roots(shadowRoot)] : []));
  const markup = document.documentElement.getHTML({ shadowRoots: roots(document) });
  return '<!doctype html><html>' + markup + '</html>';
})()`;
