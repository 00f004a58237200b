import type { PageMap } from '#core/contract/shopCalls.ts';

/** What the server writes into the script when it sends it. */
export interface Settings {
  /** Where the calls are. */
  readonly origin: string;
  /** Null before the owner has said where the controls sit. */
  readonly pageMap: PageMap | null;
}

/** What the page says of itself on the script's own element. */
export interface PageSays {
  /** The visitor's signed token; absent for a guest. */
  readonly visitor: string | undefined;
  /** BCP 47; the page's own language when the element names none. */
  readonly locale: string | undefined;
}

export function pageSays(script: HTMLScriptElement | null): PageSays {
  const { visitor, locale } = script?.dataset ?? {};
  const said = (text: string | undefined) => (text === '' ? undefined : text);
  return { visitor: said(visitor), locale: said(locale) ?? said(document.documentElement.lang) };
}
