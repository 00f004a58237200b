import type { PageMap } from '#core/contract/pageMap.ts';
import { areasIn } from './areas.ts';
import { MARK, STAND_IN } from './marks.ts';
import { closest, findAll, rootsWithin } from './roots.ts';

/** Marks a host whose shadow root we look into. */
const ROOT = 'data-understudy-root';

/** How what we put into a page looks, where the shop says nothing else: its own type and colours. */
const LOOKS = [
  `[${MARK}='away'] { display: none !important; }`,
  `:where([${STAND_IN}='note']) { margin-block: var(--understudy-gap, 0.5em); color: var(--understudy-note-ink, inherit); font: var(--understudy-note-font, inherit); }`,
  `:where([${STAND_IN}='note'] > p, [${STAND_IN}='control'] > p) { margin-block: 0; }`,
  `:where([data-place='badge']) { position: absolute; z-index: 1; width: fit-content; margin: var(--understudy-gap, 0.5em); padding-inline: 0.5em; border-radius: var(--understudy-badge-radius, 0.25em); color: var(--understudy-badge-ink, CanvasText); background: var(--understudy-badge-fill, Canvas); }`,
  `:where(a[${STAND_IN}='control']) { display: inline-block; }`,
  `[${STAND_IN}='said'] { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap; }`,
];

export interface Holding {
  /** Takes in shadow roots that have appeared. */
  readonly reach: () => readonly ShadowRoot[];
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
  const { control, together, express, price, cart, checkout, shadowHosts } = pageMap;
  const list = (...selectors: (string | undefined)[]) => selectors.filter(Boolean).join();
  const parts = `:is(${list(control, express, price)}):not([${MARK}], [${STAND_IN}])`;
  // What grows or shrinks when it is decided, and moves what is below.
  const moving = `:is(${list(control, express, price, shadowHosts)})`;
  const areas = `:is(${areasIn(pageMap)})`;
  const visits = list(together, cart?.links, checkout?.links, checkout?.order, checkout?.methods);
  const unseen = ' { visibility: hidden !important; }';
  const after = (what: string) => `${what} ~ *, :has(${what}) ~ *`;
  const waiting = `${areas}:not([${MARK}])`;

  const held = [
    // Parts that come to an area already decided, and those of one that is not, with what stands below them.
    `${areas} ${parts}${unseen}`,
    `${waiting} ${moving} ~ *, ${waiting} :has(${moving}) ~ *${unseen}`,
    // What a script has still to draw will move what was there before.
    `${waiting}:not(:has(${moving}))${unseen}`,
    `${after(waiting)}${unseen}`,
    ...(visits === '' ? [] : [`:is(${visits}):not([${MARK}])${unseen}`]),
    ...(shadowHosts === undefined ? [] : [`:is(${shadowHosts}):not([${ROOT}])${unseen}`]),
  ];
  // An area around a shadow root cannot be seen from inside it; its parts can.
  const inShadow = [...held, `${parts}, ${after(parts)}${unseen}`];
  const sheetOf = (rules: readonly string[]) => {
    const sheet = new CSSStyleSheet();
    for (const rule of [...LOOKS, ...rules]) sheet.insertRule(rule, sheet.cssRules.length);
    return sheet;
  };
  const outer = sheetOf(held);
  // One sheet for all shadow roots in an area, one for all outside.
  const shadow = { inArea: sheetOf(inShadow), outside: sheetOf(held) };
  const sheets = [outer, shadow.inArea, shadow.outside];
  const adopt = (tree: Document | ShadowRoot, sheet: CSSStyleSheet) => {
    tree.adoptedStyleSheets = [...tree.adoptedStyleSheets, sheet];
  };
  adopt(document, outer);
  const reached = new WeakSet<ShadowRoot>();

  let hasGivenUp = false;
  return {
    reach() {
      for (const host of findAll(document, shadowHosts, pageMap)) {
        const isKnown = host.shadowRoot !== null || hasGivenUp || host.matches(':defined');
        if (isKnown && !host.hasAttribute(ROOT)) host.setAttribute(ROOT, '');
      }
      const found: ShadowRoot[] = [];
      for (const root of rootsWithin(document, pageMap)) {
        if (!(root instanceof ShadowRoot) || reached.has(root)) continue;
        reached.add(root);
        adopt(root, closest(root.host, areasIn(pageMap)) ? shadow.inArea : shadow.outside);
        found.push(root);
      }
      return found;
    },
    giveUp() {
      hasGivenUp = true;
    },
    release() {
      for (const sheet of sheets) {
        while (sheet.cssRules.length > LOOKS.length) sheet.deleteRule(LOOKS.length);
      }
    },
  };
}
