import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import { areasIn } from './areas.ts';
import { EMPTY, FROM, MARK, STAND_IN, write } from './marks.ts';
import { closest, findAll, hostOf, rootsWithin } from './roots.ts';

/** Marks a host whose shadow root we look into. */
const ROOT = 'data-understudy-root';

/** Default styles of our elements, which take the shop's type and colours. */
const LOOKS = [
  `[${MARK}='away']{display:none!important}`,
  `:where([${STAND_IN}='note']){margin-block:var(--understudy-gap,.5em);color:var(--understudy-note-ink,inherit);font:var(--understudy-note-font,inherit)}`,
  `:where([${STAND_IN}='note']>p,[${STAND_IN}='control']>p){margin-block:0}`,
  `:where([data-place='badge']){position:absolute;z-index:1;width:fit-content;margin:var(--understudy-gap,.5em);padding-inline:.5em;border-radius:var(--understudy-badge-radius,.25em);color:var(--understudy-badge-ink,CanvasText);background:var(--understudy-badge-fill,Canvas)}`,
  `[${STAND_IN}='said']{position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%);white-space:nowrap}`,
];

export interface Holding {
  /** Takes in shadow roots that have appeared. */
  readonly reach: () => readonly ShadowRoot[];
  /** Keeps all that stands below the first area that waits out of sight; all of it is seen when none does. */
  readonly below: (first: Element | undefined) => void;
  /** Waits no longer for shadow roots that are not there. */
  readonly giveUp: () => void;
  /** Lets everything be seen: for when we can say nothing. */
  readonly release: () => void;
}

/**
 * Keeps what is not decided yet out of sight, in its space, and with it what stands below and could be moved by it.
 * Sheets that are adopted, not written into the page: a strict content security policy allows them.
 */
export function hold(pageMap: PageMap): Holding {
  const { control, together, express, price, besidePrice, cart, checkout, shadowHosts } = pageMap;
  const list = (...selectors: (string | undefined)[]) => selectors.filter(Boolean).join();
  const parts = `:is(${list(control, express, price, besidePrice)}):not([${MARK}], [${STAND_IN}])`;
  const areas = `:is(${areasIn(pageMap)})`;
  const visits = list(together, cart?.links, checkout?.links, checkout?.order, checkout?.methods);
  const unseen = '{visibility:hidden!important}';

  const heldSelectors = [
    `${areas} ${parts}${unseen}`,
    // By marks, not by :has(), which costs long pages dear.
    `[${FROM}] ~ *, [${EMPTY}]${unseen}`,
    ...(visits === '' ? [] : [`:is(${visits}):not([${MARK}])${unseen}`]),
    ...(shadowHosts === undefined ? [] : [`:is(${shadowHosts}):not([${ROOT}])${unseen}`]),
  ];
  // An area around a shadow root cannot be seen from inside it; its parts can.
  const inShadow = [...heldSelectors, `${parts}${unseen}`];
  const sheetOf = (rules: readonly string[]) => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync([...LOOKS, ...rules].join(''));
    return sheet;
  };
  const outer = sheetOf(heldSelectors);
  // All shadow roots in an area share one.
  const inArea = sheetOf(inShadow);
  const adopt = (tree: Document | ShadowRoot, sheet: CSSStyleSheet) => {
    tree.adoptedStyleSheets = [...tree.adoptedStyleSheets, sheet];
  };
  adopt(document, outer);
  const reached = new WeakSet<ShadowRoot>();

  const markFrom = marker(FROM);
  const markEmpty = marker(EMPTY);
  let hasGivenUp = false;
  return {
    reach() {
      for (const host of findAll(document, shadowHosts, pageMap)) {
        const isKnown = host.shadowRoot !== null || hasGivenUp || host.matches(':defined');
        if (isKnown) write(host, ROOT, '');
      }
      const found: ShadowRoot[] = [];
      for (const root of rootsWithin(document, pageMap)) {
        if (!(root instanceof ShadowRoot) || reached.has(root)) continue;
        reached.add(root);
        adopt(root, closest(root.host, areasIn(pageMap)) ? inArea : outer);
        found.push(root);
      }
      return found;
    },
    below(first) {
      // Elements whose size may change with the decision; before the first paint, the whole area.
      const moving =
        first && (findAll(first, list(control, express, price), pageMap)[0] ?? findAll(first, shadowHosts, pageMap)[0]);
      const chain: Element[] = [];
      for (let at = moving ?? first; at && at !== document.body; at = at.parentElement ?? hostOf(at) ?? undefined)
        chain.push(at);
      markFrom(chain);
      // Words beside it cannot be taken alone, and what changes in a table moves all of it.
      const isOne = (at: Element) => at !== moving && (at.matches('table') || hasWords(at));
      markEmpty(first && !moving ? [first] : chain.filter(isOne));
    },
    giveUp() {
      hasGivenUp = true;
    },
    release() {
      for (const sheet of [outer, inArea]) sheet.replaceSync(LOOKS.join(''));
    },
  };
}

/** Whether words stand in it that no element of their own holds. */
const hasWords = (element: Element) => [...element.childNodes].some((node) => node instanceof Text && node.data.trim());

/** Gives an attribute to some elements, and takes it from those that had it before. */
function marker(name: string): (elements: readonly Element[]) => void {
  let before: readonly Element[] = [];
  return (elements) => {
    for (const element of before) if (!elements.includes(element)) write(element, name, null);
    for (const element of elements) write(element, name, '');
    before = elements;
  };
}
