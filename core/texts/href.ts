/** Addresses are judged as browsers read them: control characters and spaces could hide a scheme, so none are allowed. */
// eslint-disable-next-line no-control-regex -- the point of the expression is to find them
const HIDDEN = /[\u0000-\u0020\u007f\\]/;

/** http(s), or a path of this shop; `//host` is another host in disguise, so it is none. */
export function isWebHref(href: string): boolean {
  return !HIDDEN.test(href) && /^(https?:\/\/[^/?#]|\/(?!\/))/i.test(href);
}

/** Also mailto and tel. */
export function isSafeHref(href: string): boolean {
  return isWebHref(href) || (!HIDDEN.test(href) && /^(mailto|tel):./i.test(href));
}
