import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';

/** Root of a search: the document, an element, or an open shadow root. */
export type Tree = Document | Element | ShadowRoot;

/** A tree and the open shadow roots below it that the page map speaks of. */
export function* rootsWithin(tree: Tree, { shadowHosts }: PageMap): Generator<Tree> {
  yield tree;
  if (shadowHosts === undefined) return;
  const hosts = tree instanceof Element && tree.matches(shadowHosts) ? [tree] : [];
  for (const { shadowRoot } of [...hosts, ...tree.querySelectorAll(shadowHosts)]) {
    if (shadowRoot) yield* rootsWithin(shadowRoot, { shadowHosts } as PageMap);
  }
}

/** All that a selector finds in a tree and in the shadow roots below it. */
export function findAll(tree: Tree, selector: string | undefined, pageMap: PageMap): Element[] {
  if (selector === undefined) return [];
  if (pageMap.shadowHosts === undefined) return [...tree.querySelectorAll(selector)];
  return [...rootsWithin(tree, pageMap)].flatMap((root) => [...root.querySelectorAll(selector)]);
}

/** The nearest element around, out of shadow roots as well, that a selector names. */
export function closest(element: Element, selector: string): Element | null {
  for (let at: Element | null = element; at; at = hostOf(at)) {
    const found = at.closest(selector);
    if (found) return found;
  }
  return null;
}

export function hostOf(element: Element): Element | null {
  const root = element.getRootNode();
  return root instanceof ShadowRoot ? root.host : null;
}
