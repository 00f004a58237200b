import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { SharedDecision } from '#core/engine/decision.ts';
import { chosenVariant, type Area } from './areas.ts';
import type { Answered } from './ask.ts';
import type { PageSettings } from './settings.ts';

/** Context of a dialog, besides the pressed control. */
interface Opening extends PageSettings {
  readonly origin: string;
  /** Called after actions that may change decisions. */
  readonly changed: () => void;
}

/** Exports of dialogs.js, which is loaded on demand. */
interface Dialogs {
  readonly open: (pressed: object) => boolean;
  readonly marker: (context: object) => void;
}

const load = (origin: string): Promise<Dialogs> => import(`${origin}/dialogs.js`);

/** Opens the dialog of a control; a link that was pressed leads where it leads when that fails. */
export function openDialog(
  area: Area,
  pageMap: PageMap,
  answered: Answered | null | undefined,
  control: SharedDecision['control'],
  like: HTMLElement,
  given: Opening,
): void {
  const decisions = answered?.variants;
  const [only, another] = decisions?.keys() ?? [];
  const pressed = {
    ...control,
    ...given,
    path: area.path,
    get variantId() {
      return chosenVariant(area, pageMap) ?? (another === undefined ? only : undefined);
    },
    title: area.parts(pageMap.title)[0]?.textContent ?? '',
    like,
    decisions,
  };
  void load(given.origin)
    .then(({ open }) => open(pressed))
    .catch(() => false)
    .then((isOpen) => {
      if (!isOpen && like instanceof HTMLAnchorElement) location.assign(like.href);
    });
}

/** A quote sheet that was begun is at hand on every page. */
export function showMarker(context: PageSettings & Pick<Opening, 'origin'>): void {
  if (localStorage['understudy-sheet'])
    load(context.origin)
      .then(({ marker }) => {
        marker(context);
      })
      .catch(() => false);
}
