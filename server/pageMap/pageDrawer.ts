import type { Browser, Route } from 'playwright-core';
import type { Config } from '../base/config.ts';
import { readResource } from '../http/callOut.ts';

const LOAD_MS = 15_000;
/** A page is drawn when nothing of it has changed for so long, or when it has been at it for that long. */
const QUIET_MS = 500;
const MOST_MS = 5_000;
const MOST_CHARACTERS = 4_000_000;
/** What changes nothing of what stands on a page. */
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

type Drawing = Pick<Config, 'chromium' | 'publicUrl' | 'privateHosts'>;

/** Draws pages as a shopper's browser does. */
export interface PageDrawer {
  /**
   * @param html of the page, as it was sent
   * @returns the page after its scripts have run, shadow roots in it as markup; null when it cannot be drawn
   */
  draw(address: URL, html: string): Promise<string | null>;
  close(): Promise<void>;
}

const NO_DRAWER: PageDrawer = { draw: () => Promise.resolve(null), close: () => Promise.resolve() };

/** Starts a browser where there is one; what cannot be started draws nothing. */
export async function startDrawer({ chromium: executablePath, publicUrl, privateHosts }: Drawing): Promise<PageDrawer> {
  if (executablePath === null) return NO_DRAWER;
  const { chromium } = await import('playwright-core');
  const browser = await chromium
    // Chromium does not run in its sandbox as root.
    .launch({ executablePath, args: NO_WAY_OUT, chromiumSandbox: process.getuid?.() !== 0 })
    .catch(() => null);
  if (!browser) return NO_DRAWER;
  return {
    draw: (address, html) => drawn(browser, address, html, { publicUrl, privateHosts }).catch(() => null),
    close: () => browser.close(),
  };
}

async function drawn(browser: Browser, address: URL, html: string, outside: Omit<Drawing, 'chromium'>) {
  const context = await browser.newContext({ serviceWorkers: 'block', viewport: { width: 1280, height: 900 } });
  try {
    const page = await context.newPage();
    await context.routeWebSocket(/./, (socket) => void socket.close());
    await context.addInitScript(STAYING);
    let isSent = false;
    await context.route(/./, (route) => route.abort());
    await page.route(/./, (route) => {
      const request = route.request();
      if (!request.isNavigationRequest() || request.frame() !== page.mainFrame()) return fulfil(route, outside);
      // What `STAYING` cannot hold; other failures would show the browser's own page in its place.
      if (isSent) return route.fulfill({ status: 204 });
      isSent = true;
      return route.fulfill({ contentType: 'text/html; charset=utf-8', body: html });
    });
    await page.goto(address.href, { waitUntil: 'commit', timeout: LOAD_MS });
    await page.evaluate(SETTLED);
    const text = await page.evaluate<string>(CONTENT);
    return text.length > MOST_CHARACTERS ? null : text;
  } finally {
    await context.close();
  }
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

/** Runs in every page, whose types the server does not have: where a script leads away or asks anew, the page stays. */
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
  setTimeout(resolve, ${LOAD_MS});
  new MutationObserver(wait).observe(document, { childList: true, subtree: true, attributes: true });
})`;

/** Runs in the page: the document as markup, with open shadow roots as declarative ones. */
const CONTENT = `(() => {
  const roots = (tree) =>
    [...tree.querySelectorAll('*')].flatMap(({ shadowRoot }) => (shadowRoot ? [shadowRoot, ...roots(shadowRoot)] : []));
  const markup = document.documentElement.getHTML({ shadowRoots: roots(document) });
  return '<!doctype html><html>' + markup + '</html>';
})()`;
