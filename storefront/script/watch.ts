import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import { built, isClassed } from './place.ts';
import { isWritten } from './words.ts';
import type { Tree } from './roots.ts';

/** Maximum passes in one task, after which the page draws first: a page that undoes our changes must not keep it busy. */
const MOST_IN_A_TASK = 25;

/** Nodes that were changed; null for the whole page. */
export type Touched = readonly Node[] | null;

/** Whether a change is our own; removal of our elements by others is not. */
const isOurs = ({ attributeName, target, addedNodes, removedNodes }: MutationRecord) =>
  isWritten(target) ||
  (attributeName === 'class' && isClassed(target as Element)) ||
  (addedNodes.length > 0 && removedNodes.length === 0 && [...addedNodes].every((node) => built.has(node)));

/** Calls back when the page may have changed, before it is painted. */
export function watch(
  { shadowHosts, variantEvent }: PageMap,
  changed: (touched: Touched) => void,
  chose: (event: Event) => void,
): { alsoIn: (root: Tree) => void } {
  let calls = 0;
  const nextTask = new MessageChannel();
  nextTask.port1.onmessage = () => {
    calls = 0;
  };
  const call = (touched: Touched) => {
    calls += 1;
    if (calls === 1) nextTask.port2.postMessage(null);
    if (calls < MOST_IN_A_TASK) changed(touched);
    else if (calls === MOST_IN_A_TASK)
      requestAnimationFrame(() => {
        changed(null);
      });
  };
  const anywhere = () => {
    call(null);
  };
  const observer = new MutationObserver((records) => {
    const touched = records.flatMap((record) => (isOurs(record) ? [] : record.target));
    if (touched.length > 0) call(touched);
  });
  const alsoIn = (root: Tree) => {
    observer.observe(root, {
      childList: true,
      subtree: true,
      characterData: true,
      attributes: true,
      attributeFilter: ['value', 'checked', 'selected', 'href', 'class', 'content', 'aria-pressed', 'aria-checked'],
    });
    const listen = (name: string, handle: (event: Event) => void) => {
      root.addEventListener(name, handle, true);
    };
    for (const name of ['change', 'input'])
      listen(name, (event) => {
        call([event.composedPath()[0] as Node]);
      });
    if (variantEvent)
      listen(variantEvent.name, (event) => {
        chose(event);
        anywhere();
      });
  };
  alsoIn(document);
  addEventListener('popstate', anywhere);
  // Addresses that change without a load (Navigation API).
  (globalThis as { navigation?: EventTarget }).navigation?.addEventListener('currententrychange', anywhere);
  for (const name of shadowHosts?.match(/(?<![.#[\w-])[a-z][\w]*-[\w-]+/g) ?? [])
    void customElements.whenDefined(name).then(anywhere);
  return { alsoIn };
}
