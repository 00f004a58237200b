/** Whether two paths lead to the same page. */
export const samePath = (a: string, b: string): boolean => bare(a) === bare(b);

/** Without slashes at the end, percent-decoded where that is possible. */
function bare(path: string): string {
  const cut = path.replace(/\/+$/, '');
  try {
    return decodeURIComponent(cut);
  } catch {
    return cut;
  }
}

/** Names of query parameters on product pages. */
export const parametersIn = (paths: readonly string[]): readonly string[] =>
  [...new Set(paths.flatMap((path) => [...new URLSearchParams(path.split('?')[1] ?? '').keys()]))].sort();

/** Target of a link, including links followed by scripts; null without one. */
export function leadsTo(link: Element): URL | null {
  const href = link.getAttribute('href') ?? link.getAttribute('data-href');
  if (href === null || /^(#|javascript:|mailto:|tel:)/i.test(href)) return null;
  try {
    return new URL(href, link.baseURI);
  } catch {
    return null;
  }
}
