import type { Response } from 'express';
import { directionOf } from '#core/texts/shopTexts.ts';

export interface Page {
  /** BCP 47. */
  readonly locale: string;
  readonly shop: string;
  readonly title: string;
  /** Safe HTML. */
  readonly html: string;
}

/** Sends a page of ours that a shopper comes to by a link, in plain dress. Nobody keeps it. */
export function sendPage(response: Response, { locale, shop, title, html }: Page, status = 200): void {
  response
    .status(status)
    .set({ 'Cache-Control': 'no-store', 'Referrer-Policy': 'no-referrer' })
    .type('html')
    .send(
      `<!doctype html><html lang="${escaped(locale)}" dir="${directionOf(locale)}"><head><meta charset="utf-8">` +
        `<meta name="viewport" content="width=device-width"><meta name="robots" content="noindex">` +
        `<title>${escaped(title)}</title><link rel="stylesheet" href="/pages.css"></head>` +
        `<body><main><p class="shop">${escaped(shop)}</p><h1>${escaped(title)}</h1>${html}</main></body></html>`,
    );
}

/** A form that asks for one press: what is merely followed by a mail program does nothing. */
export const pressOnce = (token: string, label: string) =>
  `<form method="post"><input type="hidden" name="token" value="${escaped(token)}"><button>${escaped(label)}</button></form>`;

export const escaped = (text: string) => text.replace(/[&<>"']/g, (character) => `&#${character.codePointAt(0)};`);

export const PAGES_CSS = `
:root { color-scheme: light dark; }
body { margin: 0; font: 17px/1.5 Georgia, 'DejaVu Serif', serif; color: CanvasText; background: Canvas; }
main { max-width: 34rem; margin: 12vh auto; padding: 0 1.25rem; }
h1 { font-size: 1.7rem; line-height: 1.2; font-weight: 500; margin: 0.2em 0 0.6em; }
.shop { margin: 0; opacity: 0.75; }
button { font: inherit; padding: 0.5em 1.1em; border: 0; border-radius: 4px; color: Canvas; background: CanvasText; cursor: pointer; }
button:focus-visible, a:focus-visible { outline: 3px solid Highlight; outline-offset: 2px; }
label { display: block; margin: 0 0 0.9em; }
input, textarea, select { display: block; box-sizing: border-box; width: 100%; margin-top: 0.2em; padding: 0.45em 0.6em; font: inherit; color: inherit; background: Field; border: 1px solid GrayText; border-radius: 4px; }
table { width: 100%; border-collapse: collapse; margin: 0 0 1.2em; }
th, td { text-align: start; padding-block: 0.45em; padding-inline: 0 0.6em; border-top: 1px solid color-mix(in srgb, CanvasText 20%, Canvas); vertical-align: top; font-weight: 400; }
td.number, th.number { text-align: end; white-space: nowrap; }
`;
