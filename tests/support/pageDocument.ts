import { parseHTML } from 'linkedom';

/** Makes a page the global document, as the storefront's script finds it. Layout and navigation need a browser. */
export function openPage(html: string, address = 'https://quillfern.example/plants/dahlia'): Document {
  const { window, document } = parseHTML(`<!doctype html><html><body>${html}</body></html>`);
  const names = [
    'HTMLElement',
    'HTMLInputElement',
    'HTMLSelectElement',
    'HTMLAnchorElement',
    'Element',
    'ShadowRoot',
    'Event',
  ] as const;
  for (const name of names) Object.assign(globalThis, { [name]: Reflect.get(window, name) as unknown });
  Object.assign(globalThis, { document, location: new URL(address) });
  Object.defineProperty(document, 'baseURI', { value: address, configurable: true });
  return document;
}
