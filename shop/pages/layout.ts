import type { Html } from '../html.ts';
import { html } from '../html.ts';
import type { Visit } from '../visits.ts';
import { translate } from '../words.ts';

/** Context of every page. */
export interface PageContext {
  readonly visit: Visit;
  /** Origin of Understudy's script. */
  readonly understudyUrl: string;
  /** Token that identifies the visitor to the script; null for a guest. */
  readonly token: string | null;
  readonly path: string;
  /** Whether the page answers a form, so that its address is not the one requested. */
  readonly isElsewhere: boolean;
  /** Ranges linked from every page. */
  readonly ranges: readonly { readonly slugs: string; readonly name: string }[];
  /** The dressing's script. */
  readonly asset: string;
}

/** Fonts of every page, in /fonts. */
const FONTS = [
  'alegreya/files/alegreya-latin-wght-normal',
  'alegreya/files/alegreya-latin-wght-italic',
  'alegreya-sans/files/alegreya-sans-latin-400-normal',
  'alegreya-sans/files/alegreya-sans-latin-700-normal',
];

/** Renders the frame of a page. A message is shown once. */
export function layout(context: PageContext, title: string, body: Html): string {
  const { visit, understudyUrl, token, path, isElsewhere, ranges, asset } = context;
  const { language, customer, lines, invitations } = visit;
  const message = visit.message;
  visit.message = null;
  const count = lines.reduce((sum, { quantity }) => sum + quantity, 0);
  const page = html`<html lang="${language}">
    <head>
      <meta charset="utf-8" />
      <meta name="viewport" content="width=device-width, initial-scale=1" />
      <title>${title} · Quillfern Nursery</title>
      ${isElsewhere ? html`<script src="/assets/address.js" data-path="${path}"></script>` : null}
      <script
        src="${understudyUrl}/embed.js"
        data-locale="${language}"
        ${token === null ? '' : html`data-visitor="${token}"`}
        ${invitations.length === 0 ? '' : html`data-invitations="${invitations.join(' ')}"`}
        ${lines.length === 0 ? '' : html`data-cart="${JSON.stringify(lines.map(inSource))}"`}
      ></script>
      <link rel="icon" href="/assets/icon.svg" />
      ${FONTS.map((font) => html`<link rel="preload" as="font" type="font/woff2" href="/fonts/${font}.woff2" crossorigin />`)}
      <link rel="stylesheet" href="/assets/shop.css" />
      <link rel="stylesheet" href="/assets/frame.css" />
      <script src="/assets/${asset}" defer></script>
    </head>
    <body>
      <header class="masthead">
        <a class="sign" href="/"
          ><img src="/assets/icon.svg" alt="" width="34" height="34" />Quillfern <span>Nursery</span></a
        >
        <form class="seek" action="/search" role="search">
          <input
            type="search"
            name="q"
            aria-label="${translate(language, 'search')}"
            placeholder="${translate(language, 'search')}"
          />
        </form>
        <nav aria-label="Visit">
          <form method="post" action="/language">
            <input type="hidden" name="back" value="${path}" />
            <button class="quiet" name="language" value="${language === 'en' ? 'fr' : 'en'}">
              ${language === 'en' ? 'Français' : 'English'}
            </button>
          </form>
          ${
            customer
              ? html`<a href="/account">${translate(language, 'account')}</a>
                  <form method="post" action="/sign-out">
                    <button class="quiet">${customer.name}: ${translate(language, 'signOut')}</button>
                  </form>`
              : html`<a href="/sign-in">${translate(language, 'signIn')}</a>`
          }
          <a class="to-basket" href="/basket">${translate(language, 'basket')} <b class="count">${count}</b></a>
        </nav>
        <nav class="range-bar" aria-label="${translate(language, 'everything')}">
          ${ranges.map(
            ({ slugs, name }) =>
              html`<a href="/range/${slugs}" ${path.startsWith(`/range/${slugs}`) ? html`aria-current="true"` : null}
                >${name}</a
              >`,
          )}
          <a href="/border">${translate(language, 'border')}</a>
          <a href="/circle">${translate(language, 'circle')}</a>
        </nav>
      </header>
      ${message === null ? null : html`<p class="message" role="status">${message}</p>`} ${body}
      <footer>
        <p>${translate(language, 'aboutUs')}</p>
        <nav aria-label="${translate(language, 'help')}">
          <a href="/quote-sheet">${translate(language, 'sheet')}</a>
        </nav>
        <p>${translate(language, 'sample')}</p>
      </footer>
    </body>
  </html>`;
  return `<!doctype html>\n${page.markup}`;
}

/** Cart line as the page's source gives it to the script. */
const inSource = ({ isPriceHidden, unitPrice, ...line }: Visit['lines'][number]) =>
  isPriceHidden ? line : { ...line, unitPrice };
