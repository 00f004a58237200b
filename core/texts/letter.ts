import type { ShopFacts } from '../model/subject.ts';
import { localeFor, wordsIn } from './locale.ts';
import { directionOf } from './shopTexts.ts';
import { toHtml } from './markdown.ts';

/** Ready-made designs of letters. */
export const DESIGNS = ['specimen', 'packet', 'note'] as const;
export type Design = (typeof DESIGNS)[number];

/** Design common to all of the shop's messages. */
export interface Look {
  readonly design: Design;
  /** `#RRGGBB` */
  readonly colour: string;
  /** Markdown under every letter, such as terms and an address. */
  readonly terms: string | Readonly<Record<string, string>> | null;
}

export const PLAIN_LOOK: Look = { design: 'note', colour: '#16323A', terms: null };

interface Parts {
  readonly colour: string;
  readonly shop: string;
  readonly logo: string;
  readonly body: string;
  readonly terms: string;
}

const SERIF = "font-family:Georgia,'Times New Roman',serif";
const SANS = 'font-family:Arial,Helvetica,sans-serif';
const TERMS = (words: string, style: string) =>
  words && `<div style="${SANS};font-size:12px;line-height:18px;color:#5B6468;${style}">${words}</div>`;

const DESIGNED: Readonly<Record<Design, (parts: Parts) => string>> = {
  // Like a sheet in a herbarium: ruled twice, with its label.
  specimen: ({ colour, shop, logo, body, terms }) =>
    `<div style="background:#F6F3EC;padding:24px 12px"><div style="max-width:560px;margin:0 auto;background:#FFFFFF;border:1px solid ${colour};padding:5px"><div style="border:1px solid ${colour};padding:22px 30px 26px"><div style="border-bottom:1px solid ${colour};padding-bottom:10px;${SERIF};font-style:italic;font-size:16px;color:${colour}">${logo} ${shop}</div><div style="${SERIF};font-size:17px;line-height:26px;color:#23282B">${body}</div>${TERMS(terms, `border-top:1px solid ${colour};margin-top:22px;padding-top:10px`)}</div></div></div>`,
  // Like a seed packet: a coloured head that folds over.
  packet: ({ colour, shop, logo, body, terms }) =>
    `<div style="background:#FFFFFF;padding:24px 12px"><div style="max-width:560px;margin:0 auto;border:1px solid #DFD8C8;border-radius:4px;overflow:hidden"><div style="background:${colour};color:${inkOn(colour)};padding:18px 30px;${SANS};font-size:18px;font-weight:bold">${logo} ${shop}</div><div style="padding:22px 30px;${SANS};font-size:15px;line-height:23px;color:#23282B">${body}</div>${TERMS(terms, 'border-top:1px dashed #B9B2A2;padding:14px 30px')}</div></div>`,
  // Like a note by hand: words, and who they are from.
  note: ({ colour, logo, body, terms }) =>
    `<div style="max-width:560px;padding:16px;${SANS};font-size:15px;line-height:23px;color:#23282B"><div style="color:${colour}">${logo}</div>${body}${TERMS(terms, 'margin-top:22px')}</div>`,
};

/**
 * A letter as HTML for mail programs: everything that shapes it stands in `style` attributes.
 * @param body safe HTML
 * @param logo the address of the shop's logo; null when it has none
 */
export function letterHtml(
  body: string,
  look: Look,
  {
    shop,
    locale,
    logo,
    address,
  }: {
    readonly shop: Pick<ShopFacts, 'name' | 'locales'>;
    readonly locale: string | null;
    readonly logo: string | null;
    /** The shop's, its lines as written. */
    readonly address: string | null;
  },
): string {
  const chosen = localeFor(locale, shop.locales);
  const name = escaped(shop.name);
  const image = `<img src="${escaped(logo ?? '')}" alt="${name}" height="40" style="height:40px;width:auto;vertical-align:middle">`;
  const letter = DESIGNED[look.design]({
    colour: look.colour,
    shop: name,
    logo: logo === null ? '' : image,
    body: inColour(body.startsWith('<p>') ? body : `<p>${body}</p>`, look.colour),
    terms:
      (look.terms === null ? '' : inColour(toHtml(wordsIn(look.terms, chosen, shop.locales)), look.colour)) +
      (address === null ? '' : `<p>${escaped(address).replaceAll('\n', '<br>')}</p>`),
  });
  return `<div lang="${escaped(chosen)}" dir="${directionOf(chosen)}">${letter}</div>`;
}

const inColour = (html: string, colour: string) => html.replaceAll('<a ', `<a style="color:${colour}" `);

/** Black or white, whichever is easier to read on a colour (WCAG 2, relative luminance). */
function inkOn(colour: string): string {
  const [red = 0, green = 0, blue = 0] = [1, 3, 5].map((at) => {
    const part = Number.parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.040_45 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue > 0.179 ? '#000000' : '#FFFFFF';
}

const escaped = (words: string) => words.replace(/[&<>"']/g, (character) => `&#${character.codePointAt(0) ?? 0};`);
