/** Addresses are judged as browsers read them: control characters and spaces could hide a scheme, so none are allowed. */
// oxlint-disable-next-line no-control-regex -- the point of the expression is to find them
const HIDDEN = /[\u0000-\u0020\u007f\\]/;

/** http(s), or a path of this shop; `//host` is another host in disguise, so it is none. */
export function isWebHref(href: string): boolean {
  return !HIDDEN.test(href) && /^(https?:\/\/[^/?#]|\/(?!\/))/i.test(href);
}

/** Also mailto, and tel, whose digits are often written apart. */
export function isSafeHref(href: string): boolean {
  return isWebHref(href) || (!HIDDEN.test(href) && /^mailto:./i.test(href)) || /^tel:[+\d][\d\s().-]*$/i.test(href);
}

/** Placeholders with which an address may begin: the product's path, or an attribute that is an address. */
const OF_PRODUCT = /^\/?\{product\.(?:path|attribute\.[\p{L}\p{N}_-]+)\}/u;

/** Splits a rule's address into its leading product placeholder and the rest. */
export function partsOfHref(text: string): { readonly ofProduct: string; readonly rest: string } {
  const [found = ''] = OF_PRODUCT.exec(text) ?? [];
  return { ofProduct: found.replace(/^\//, ''), rest: text.slice(found.length) };
}

/** A filled address in browsers' form; null if it is not allowed. */
export function filledHref(text: string, isAllowed: (href: string) => boolean): string | null {
  const href = /^tel:/i.test(text) ? text.replace(/[^\w+:]/g, '') : text.replace(/^\/{2,}/, '/').replace(/ /g, '%20');
  return isAllowed(href) ? href : null;
}
