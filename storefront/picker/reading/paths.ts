import { samePath as plainPath } from '#core/model/names.ts';

/** Whether two paths lead to the same page. */
export const samePath = (a: string, b: string): boolean => plainPath(a) === plainPath(b);

/** Where a link leads, also one that a script follows; null when it leads nowhere. */
export function leadsTo(link: Element): URL | null {
  const href = link.getAttribute('href') ?? link.getAttribute('data-href');
  if (href === null || /^(#|javascript:|mailto:|tel:)/i.test(href)) return null;
  try {
    return new URL(href, link.baseURI);
  } catch {
    return null;
  }
}
