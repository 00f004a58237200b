import type { SharedDecision } from '#core/engine/decision.ts';
import type { Surface } from './areas.ts';
import { RELABELS_SHOP_BUTTON } from './kinds.ts';
import type { ScriptTexts } from './settings.ts';
import type { Note } from './notes.ts';
import { build, place, type StandIn } from './place.ts';
import { restoreWords, setWords } from './words.ts';

type Control = SharedDecision['control'];

/** Context of a part of the page in which controls are shown. */
export interface Shown {
  readonly origin: string;
  readonly path: string;
  readonly surface: Surface;
  /** Whether no order can be placed now. */
  readonly isShut: boolean;
  readonly variantId: string | undefined;
  /** Whether nothing is left to be chosen, so that a pre-order can be placed where the shop has its button off. */
  readonly isChosen: boolean;
  /** Texts of the script, in the page's language. */
  readonly texts: ScriptTexts;
  /** Opens a stand-in's dialog on this page; without one, `href` is followed. */
  readonly openDialog: (control: Control, like: HTMLElement) => void;
}

/** A form that stands on the page itself, in a note's place; many of them on a listing would bury it. */
const isInline = (control: Control, { surface }: Shown): control is Extract<Control, { kind: 'enquiry' }> =>
  'open' in control && control.open === 'inline' && !control.standing && surface !== 'listing';

export const canBePutIn = ({ kind, beside }: Control) => RELABELS_SHOP_BUTTON.has(kind) || beside;

export function applyControl(element: Element, control: Control, shown: Shown): void {
  if (RELABELS_SHOP_BUTTON.has(control.kind) && !control.beside) {
    // Visitors who have reserved see it, and may reserve more.
    const standIn = control.standing ? ({ tag: 'div', html: control.html ?? '' } as const) : null;
    place(element, 'control', false, standIn, control.look);
    // In a form of several products a product's control is its quantity, which says no words.
    if (
      control.label === null ||
      element.matches('select, textarea, input:not([type=submit], [type=button], [type=image])')
    )
      restoreWords(element);
    else setWords(element, control.label, 'left' in control && shown.isChosen);
    return;
  }
  if (control.beside) restoreWords(element);
  place(element, 'control', !control.beside, standInFor(control, element, shown));
}

/** The notes, and the form that stands among them; a line of the cart has nothing to be asked or joined. */
export const withForm = ({ notes, control }: SharedDecision, shown: Shown): readonly Note[] => {
  if (shown.surface === 'cart' || shown.surface === 'checkout') return notes;
  if (isInline(control, shown)) {
    const fill = (element: HTMLElement) => {
      shown.openDialog(control, element);
    };
    return [...notes, { place: control.place ?? 'belowControl', html: '', fill }];
  }
  // A waitlist shows its text and length before anybody joins.
  if (!('length' in control) || control.standing) return notes;
  const html = (control.html ?? '') + (control.length ? `<p>${control.length} ${shown.texts.waiting}</p>` : '');
  return html ? [{ place: 'belowControl', html }, ...notes] : notes;
};

/** Words of the present control, for screen readers. */
export const wordsFor = ({ label, html }: Control): string =>
  label ?? (html === null ? '' : build({ tag: 'div', html }, '').textContent);

function standInFor(control: Control, element: Element, shown: Shown): StandIn | null {
  if (isInline(control, shown)) return null;
  // Only text, or nothing, stands in without a label.
  if (control.label === null || control.standing)
    return control.html === null ? null : { tag: 'div', html: control.html };
  const newTab = 'newTab' in control && control.newTab;
  const href = hrefOf(control, shown);
  return {
    tag: 'a',
    text: control.label,
    look: control.look,
    // Controls without an address open on the page itself.
    ...(!('href' in control) && {
      press: (like: HTMLElement) => {
        shown.openDialog(control, like);
      },
    }),
    attributes: {
      ...(href === null ? {} : { href }),
      // Takes the look of the shop's own button.
      class: element.className,
      ...(newTab ? { target: '_blank', rel: 'noopener' } : {}),
    },
  };
}

function hrefOf(control: Control, { origin, path, variantId }: Shown): string | null {
  if ('href' in control) return control.href;
  if ('form' in control && typeof control.form !== 'string') return control.form.page;
  const about = new URLSearchParams({ path, ...(variantId === undefined ? {} : { variant: variantId }) });
  return `${origin}/ask/${control.kind}?${about.toString()}`;
}
