import { readFileSync } from 'node:fs';
import { scriptPageMap } from '#core/contract/pageMap.ts';
import { TEXT_KEYS } from '#core/texts/languages.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import { noteLine } from '../shop/firstSteps.ts';

/** Placeholder for the settings in the bundle of storefront/script/. */
const SETTINGS = '"__UNDERSTUDY_SETTINGS__"';

/** The same of storefront/dialogs/. */
const TEXTS = '"__UNDERSTUDY_TEXTS__"';

/** The storefront script, with the shop's page map in it, and the modules that it loads when they are needed. */
export function embedRoute(endpoints: Endpoints, services: Services): void {
  const { live, config, files } = services;
  const script = readFileSync(files.embed, 'utf8');
  /** The shop's texts whose keys begin so, by locale, the default first. */
  const textsUnder = (prefix: 'dialog.' | 'page.') => {
    const { shop } = live.current().rulebook;
    const keys = TEXT_KEYS.filter((key) => key.startsWith(prefix));
    return Object.fromEntries(
      shop.locales.map((locale) => [
        locale,
        Object.fromEntries(keys.map((key) => [key.slice(prefix.length), shopText(key, locale, shop)])),
      ]),
    );
  };
  const shared = { 'Cache-Control': 'public, max-age=60', 'Cross-Origin-Resource-Policy': 'cross-origin' };
  for (const name of ['dialogs', 'owner', 'later', 'fitting'] as const) {
    const module = readFileSync(files[name], 'utf8');
    endpoints.mount('get', `/${name}.js`, 'public', (_request, response) => {
      response
        .set({ ...shared, 'Access-Control-Allow-Origin': '*' })
        .type('text/javascript')
        .send(module.replace(TEXTS, () => JSON.stringify(textsUnder('dialog.'))));
    });
  }
  endpoints.mount('get', '/embed.js', 'public', noteLine(services), (_request, response) => {
    const { pageMap, rulebook } = live.current();
    const texts = textsUnder('page.');
    const settings = JSON.stringify({
      origin: config.publicUrl,
      pageMap: pageMap && scriptPageMap(pageMap),
      texts,
      fits:
        rulebook.sellers !== null ||
        rulebook.rules.some(({ aspects }) => aspects.includes('control') || aspects.includes('price')),
    });
    response
      .set(shared)
      .type('text/javascript')
      .send(script.replace(SETTINGS, () => settings));
  });
}
