import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { TextsByLocale } from '../shared/textsIn.ts';
import type { AskDecisions } from '#core/contract/storefront.ts';

export type ScriptTexts = Readonly<Record<'from' | 'waiting', string>>;

/** Settings that the server inserts when it sends the script. */
export interface Settings {
  /** Origin of the calls. */
  readonly origin: string;
  /** Null before the owner has said where the controls sit. */
  readonly pageMap: PageMap | null;
  /** The few words that the script itself says. */
  readonly texts: TextsByLocale<keyof ScriptTexts>;
  /** Whether a rule changes a control or a price, so that their look must be fitted. */
  readonly fits: boolean;
}

/** Settings of the page: on the script element, or later by `understudy.refresh`. */
export interface PageSettings {
  /** The visitor's signed token; absent for a guest. */
  readonly visitor?: string | undefined;
  /** BCP 47; the page's own language when the element names none. */
  readonly locale?: string | undefined;
  /** Tokens of links by which the visitor was invited to buy. */
  readonly invitations?: AskDecisions['invitations'];
  /** The lines of the visitor's cart; absent when it is empty. */
  readonly cart?: AskDecisions['cart'] | undefined;
}

export function readPageSettings(script: HTMLScriptElement | null): PageSettings {
  const { visitor, locale, cart, invitations } = script?.dataset ?? {};
  return {
    visitor: visitor || undefined,
    locale: locale || undefined,
    cart: linesIn(cart),
    invitations: invitations?.split(' ') ?? [],
  };
}

/** Reads the lines in `data-cart` (JSON); invalid JSON is no cart. */
function linesIn(text: string | undefined): PageSettings['cart'] {
  try {
    const lines = JSON.parse(text ?? '[]') as NonNullable<PageSettings['cart']>;
    return lines.length > 0 ? lines : undefined;
  } catch {
    return undefined;
  }
}
