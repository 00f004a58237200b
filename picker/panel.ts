import { make } from './make.ts';
import { foundOn, PARTS, stillNeeded, type Part } from './parts.ts';
import type { Draft } from './propose.ts';
import type { Proposal } from './selectors.ts';

/** What the panel shows. */
export interface View {
  readonly map: Draft;
  /** The part that is open. */
  readonly open: Part | null;
  /** Whether the next press on the page chooses. */
  readonly isPicking: boolean;
  readonly ways: readonly Proposal[];
  readonly kept: { readonly state: 'saving' | 'kept' | 'started' | 'incomplete' | 'failed'; readonly why?: string };
  readonly side: 'left' | 'right';
  readonly canUndo: boolean;
  /** Other pages, and what they hold; null while a page cannot be looked into. */
  readonly others: readonly { readonly path: string; readonly page: Document | null }[];
}

export interface Acts {
  readonly open: (part: Part | null) => void;
  readonly pick: () => void;
  readonly choose: (selector: string | undefined) => void;
  readonly propose: () => void;
  readonly prove: () => void;
  readonly undo: () => void;
  readonly swap: () => void;
  readonly checkThisPage: () => void;
  readonly done: () => void;
}

const GROUPS = [...new Set(PARTS.map(({ group }) => group))];

/** The panel beside the page, drawn anew at every change; what has focus keeps it. */
export function panel(view: View, acts: Acts): HTMLElement {
  const { map, open, isPicking, side } = view;
  const task = open
    ? make(
        'p',
        { class: 'task', role: 'status' },
        isPicking ? `${open.hint}.` : `${open.name}: choose how to name it, or press “Pick again”.`,
        isPicking && make('small', {}, 'The page does nothing meanwhile. Arrow up takes in more, Escape stops.'),
      )
    : make(
        'p',
        { class: 'task', role: 'status' },
        map.control === undefined
          ? 'Let the page be read first, then look through what was found.'
          : 'Look through what was found. Press a line to see or change it.',
      );
  // While something is to be pressed, the panel takes no more room than saying so needs.
  const rest = isPicking
    ? [
        make(
          'div',
          { class: 'acts stop' },
          make('button', { type: 'button', id: 'pick', click: acts.pick }, 'Stop picking'),
        ),
      ]
    : [make('div', { class: 'scroll' }, ...GROUPS.flatMap((group) => groupOf(group, view, acts))), foot(view, acts)];
  return make(
    'section',
    { class: `panel ${side}${isPicking ? ' low' : ''}`, 'aria-label': 'Show me the control' },
    make(
      'header',
      {},
      make('h1', {}, 'Show me the control'),
      make('button', { type: 'button', click: acts.swap, id: 'swap' }, side === 'right' ? '← Move' : 'Move →'),
      !isPicking && make('p', {}, 'The shop as it made itself; Understudy stands back.'),
    ),
    task,
    ...rest,
  );
}

function groupOf(group: string, view: View, acts: Acts): Node[] {
  const parts = PARTS.filter((part) => part.group === group);
  return [make('h2', {}, group), make('ul', {}, ...parts.map((part) => line(part, view, acts)))];
}

function line(part: Part, view: View, acts: Acts): HTMLElement {
  const selector = part.read(view.map);
  const here = foundOn(document, location.pathname, view.map, part).length;
  const isOpen = view.open?.key === part.key;
  return make(
    'li',
    { class: isOpen ? 'open' : '' },
    make(
      'button',
      {
        type: 'button',
        class: 'part',
        id: `part-${part.key}`,
        'aria-expanded': String(isOpen),
        click: () => {
          acts.open(isOpen ? null : part);
        },
      },
      make('span', {}, part.name),
      make('span', { class: `count${here === 0 ? ' zero' : ''}` }, selector === undefined ? '' : `${here} here`),
      selector === undefined ? make('span', { class: 'none' }, 'not said') : make('code', {}, selector),
    ),
    isOpen && ways(part, view, acts),
  );
}

function ways(part: Part, { ways, map, others }: View, acts: Acts): HTMLElement {
  const chosen = part.read(map);
  const known = ways.some(({ selector }) => selector === chosen);
  const all = known || chosen === undefined ? ways : [{ selector: chosen, found: 0 }, ...ways];
  return make(
    'div',
    { class: 'ways' },
    ...all.map(({ selector }) =>
      make(
        'label',
        {},
        make('input', {
          type: 'radio',
          name: 'way',
          id: `way-${selector}`,
          checked: selector === chosen,
          change: () => {
            acts.choose(selector);
          },
        }),
        make('code', {}, selector),
        make('small', {}, counts(part, map, selector, others)),
      ),
    ),
    make('input', {
      type: 'text',
      id: 'own-words',
      value: chosen ?? '',
      'aria-label': `${part.name}: selector`,
      placeholder: 'or write a selector',
      change: (event) => {
        acts.choose((event.target as HTMLInputElement).value.trim() || undefined);
      },
    }),
    make(
      'div',
      { class: 'acts' },
      make(
        'button',
        { type: 'button', id: 'pick', class: 'main', click: acts.pick },
        chosen === undefined ? 'Pick' : 'Pick again',
      ),
      chosen !== undefined && make('button', { type: 'button', id: 'prove', click: acts.prove }, 'Prove it'),
      chosen !== undefined &&
        make(
          'button',
          {
            type: 'button',
            id: 'forget',
            click: () => {
              acts.choose(undefined);
            },
          },
          'Not on this shop',
        ),
    ),
  );
}

function counts(part: Part, map: Draft, selector: string, others: View['others']): string {
  const here = foundOn(document, location.pathname, map, part, selector).length;
  const there = others.map(({ path, page }) =>
    page === null ? `${path} not seen yet` : `${foundOn(page, path, map, part, selector).length} on ${path}`,
  );
  return [`${here} here`, ...there].join(' · ');
}

function foot({ map, kept, canUndo, others }: View, acts: Acts): HTMLElement {
  const needed = stillNeeded(map);
  const path = location.pathname;
  const isChecked = map.pages?.includes(path) ?? false;
  const says = {
    saving: 'Keeping …',
    kept: 'Kept in the draft. Publish it in Connection.',
    started: 'Nothing changed yet.',
    incomplete: `Still needed: ${needed.join(', ')}. What is picked goes along to the next page.`,
    failed: kept.why ?? 'Not kept.',
  }[kept.state];
  return make(
    'footer',
    {},
    make('p', { class: kept.state === 'failed' ? 'wrong' : '', role: 'status' }, says),
    others.length > 0 && make('p', {}, `Also looking at ${others.map(({ path }) => path).join(', ')}.`),
    make(
      'div',
      { class: 'acts' },
      make(
        'button',
        { type: 'button', id: 'propose', class: map.control === undefined ? 'main' : '', click: acts.propose },
        'Read this page',
      ),
      make('button', { type: 'button', id: 'undo', click: acts.undo, disabled: !canUndo }, 'Undo'),
      !isChecked &&
        make('button', { type: 'button', id: 'check-page', click: acts.checkThisPage }, 'Check this page nightly'),
      make(
        'button',
        { type: 'button', id: 'done', class: kept.state === 'kept' ? 'main' : '', click: acts.done },
        'Back to Connection',
      ),
    ),
  );
}
