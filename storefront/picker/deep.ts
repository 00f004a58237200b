/** Marks the picker's own host, which is no part of the page. */
export const PICKER = 'data-understudy-picker';

const rootOf = (element: Element): ShadowRoot | null => (element.hasAttribute(PICKER) ? null : element.shadowRoot);

/** Everything in a page, open shadow roots included, in the order of the document. */
export function* everything(tree: Document | Element | ShadowRoot): Generator<Element> {
  for (const element of tree.querySelectorAll('*')) {
    yield element;
    const root = rootOf(element);
    if (root) yield* everything(root);
  }
}

export const isElement = (node: unknown): node is Element =>
  typeof node === 'object' && node !== null && 'nodeType' in node && node.nodeType === 1;

export const hostOf = (element: Element): Element | null => {
  const root = element.getRootNode();
  return 'host' in root ? (root as ShadowRoot).host : null;
};

/** The element around, out of a shadow root as well. */
export const parentOf = (element: Element): Element | null => element.parentElement ?? hostOf(element);

export function contains(outer: Element, inner: Element): boolean {
  for (let at: Element | null = inner; at; at = hostOf(at)) if (outer.contains(at)) return true;
  return false;
}

/** All that a selector names in a tree, open shadow roots included; none when it is no selector. */
export function allOf(tree: Document | Element | ShadowRoot, selector: string): Element[] {
  try {
    const found = [...tree.querySelectorAll(selector)];
    const roots = [...tree.querySelectorAll('*')].flatMap((element) => rootOf(element) ?? []);
    const shadowRoots = isElement(tree) && tree.shadowRoot ? [tree.shadowRoot] : [];
    return [...found, ...[...shadowRoots, ...roots].flatMap((root) => allOf(root, selector))];
  } catch {
    return [];
  }
}

/** Text of an element, in one line. */
export const wordsOf = (element: Element): string =>
  (
    element.textContent.replace(/\s+/g, ' ').trim() ||
    element.getAttribute('value') ||
    element.getAttribute('aria-label') ||
    element.getAttribute('title') ||
    ''
  ).trim();

/** The text of an element, with that of its shadow root. */
export const allWordsOf = (element: Element): string =>
  wordsOf(element) +
  (element.shadowRoot ? [...element.shadowRoot.children].map(wordsOf).join(' ') : '') +
  [...element.querySelectorAll('*')]
    .map(({ shadowRoot }) => (shadowRoot ? [...shadowRoot.children].map(wordsOf).join(' ') : ''))
    .join(' ');
