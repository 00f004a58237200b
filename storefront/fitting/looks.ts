import { STAND_IN } from '../script/marks.ts';

/** Says of a button, and of what holds words in it that could not be seen, how it is changed to show ours. */
export const WORDS = 'data-understudy-words';

/**
 * The ring of two colours is seen on light and on dark (WCAG technique C40).
 * Ignores styles with which the shop disables its own button or shows only a picture.
 */
const LOOKS = `a[${STAND_IN}='control']{height:auto!important;min-width:44px!important;max-width:100%!important;align-items:center!important;justify-content:center!important;text-align:center!important;white-space:normal!important;overflow:visible!important;text-indent:0!important;opacity:1!important;pointer-events:auto!important;cursor:pointer!important;transition:none!important}
a[${STAND_IN}='control']:hover{filter:brightness(0.92)}
a[${STAND_IN}='control']:focus-visible{outline:2px solid #fff!important;outline-offset:0!important;box-shadow:0 0 0 4px #000!important}
[${WORDS}~='on']{opacity:1!important;pointer-events:auto!important;cursor:pointer!important}
[${WORDS}~='grown'],[${WORDS}~='inner']{width:auto!important;height:auto!important;overflow:visible!important;white-space:normal!important;text-indent:0!important}
[${WORDS}~='grown']{min-width:44px!important;min-height:44px!important;padding-inline:1em!important;gap:0.5em}
[${WORDS}~='small']{font-size:1rem!important}
[${WORDS}~='round']{border-radius:4em!important}
[${WORDS}~='picture']{background-image:none!important}
[${WORDS}~='inner']:not([${WORDS}~='grown']){position:static!important;margin:0!important;margin-inline-start:0.5em!important;font-size:inherit!important;clip:auto!important;clip-path:none!important}`;

/** Says which of the looks that were measured an element has. */
export const LOOK_NUMBER = 'data-understudy-look';

/** A sheet that is adopted, not written into the page: a strict content security policy allows it. */
const looks = new CSSStyleSheet();
looks.replaceSync(LOOKS);

const numbers = new Map<string, string>();

/** The number of a look, which is written down once however many have it: long pages are drawn faster so. */
export function lookOf(declarations: string): string {
  let number = numbers.get(declarations);
  if (number === undefined) {
    number = String(numbers.size);
    numbers.set(declarations, number);
    // Stronger than what a theme says by classes and ids, weaker than the colours of a rule.
    looks.insertRule(`[${LOOK_NUMBER}='${number}']:not(#u#u#u){${declarations}}`);
  }
  return number;
}

/** Has the looks count where an element stands. */
export function adoptLooks(element: Element): void {
  const root = element.getRootNode() as Document | ShadowRoot;
  if (adopted.has(root)) return;
  adopted.add(root);
  root.adoptedStyleSheets = [...root.adoptedStyleSheets, looks];
}
const adopted = new WeakSet<Node>();
