import { readFileSync } from 'node:fs';
import type { IRouter } from 'express';
import type { Services } from '../services.ts';

/** What the bundle of embed/ reads its settings from. */
const SETTINGS = '"__UNDERSTUDY_SETTINGS__"';

/** The storefront script, with the shop's page map in it, and the modules that it loads when they are needed. */
export function embedRoute(router: IRouter, { live, config, files }: Services): void {
  const script = readFileSync(files.embed, 'utf8');
  const shared = { 'Cache-Control': 'public, max-age=60', 'Cross-Origin-Resource-Policy': 'cross-origin' };
  for (const name of ['serve', 'owner'] as const) {
    const module = readFileSync(files[name], 'utf8');
    router.get(`/${name}.js`, (_request, response) => {
      response
        .set({ ...shared, 'Access-Control-Allow-Origin': '*' })
        .type('text/javascript')
        .send(module);
    });
  }
  router.get('/embed.js', (_request, response) => {
    const { pageMap } = live.current();
    // What only the check looks at is not sent to every page.
    const { site: _site, pages: _pages, ...mapped } = pageMap ?? {};
    const settings = JSON.stringify({ origin: config.publicUrl, pageMap: pageMap && mapped });
    response
      .set(shared)
      .type('text/javascript')
      .send(script.replace(SETTINGS, () => settings));
  });
}
