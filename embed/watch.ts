import type { PageMap } from '#core/contract/pageMap.ts';
import type { Tree } from './roots.ts';

/** So many times in one task; then the page is left to draw first, so that nobody's changes chase ours for ever. */
const MOST_IN_A_TASK = 25;

/** Calls back whenever the page may show something else, before it is painted. */
export function watch(
  { shadowHosts, variantEvent }: PageMap,
  changed: () => void,
  chose: (event: Event) => void,
): { alsoIn: (root: Tree) => void } {
  let calls = 0;
  const nextTask = new MessageChannel();
  nextTask.port1.onmessage = () => {
    calls = 0;
  };
  const call = () => {
    calls += 1;
    if (calls === 1) nextTask.port2.postMessage(null);
    if (calls < MOST_IN_A_TASK) changed();
    else if (calls === MOST_IN_A_TASK) requestAnimationFrame(changed);
  };
  const observer = new MutationObserver(call);
  const alsoIn = (root: Tree) => {
    observer.observe(root, {
      childList: true,
      subtree: true,
      characterData: true,
      attributes: true,
      attributeFilter: ['value', 'checked', 'selected', 'href', 'class', 'content'],
    });
    for (const event of ['change', 'input']) root.addEventListener(event, call, true);
    if (variantEvent)
      root.addEventListener(
        variantEvent.name,
        (event) => {
          chose(event);
          call();
        },
        true,
      );
  };
  alsoIn(document);
  addEventListener('popstate', call);
  // Addresses that change without a load (Navigation API).
  (globalThis as { navigation?: EventTarget }).navigation?.addEventListener('currententrychange', call);
  for (const name of shadowHosts?.match(/(?<![.#[\w-])[a-z][\w]*-[\w-]+/g) ?? [])
    void customElements.whenDefined(name).then(call);
  return { alsoIn };
}
