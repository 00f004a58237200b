import { call, isAbout, problemIn } from './call.ts';
import { element, openDialog, openInline } from './dialog.ts';
import { finish } from './enquiry.ts';
import { lineTitle, variantsAt, type Variant } from './goods.ts';
import { unitsBox } from './ownForm.ts';
import { personForm } from './person.ts';
import type { Pressed } from './pressed.ts';
import { wordsIn } from './words.ts';

/** Key of the sheet in the visitor's browser, so that it is available on all of the shop's pages. */
const KEPT = 'understudy-sheet';
/** Length of a note, in characters. */
const MOST_WORDS = 500;

interface Line {
  readonly variantId: string;
  /** With the variant, where there are several. */
  readonly title: string;
  /** The product's title, and those of its variants that can be asked for. Lines of older sheets have neither. */
  readonly product?: string;
  readonly variants?: readonly Variant[];
  readonly quantity: number;
  readonly note: string;
}
interface Sheet {
  /** Sent with it, so that it is one request however often it is sent. */
  readonly key: string;
  readonly lines: readonly Line[];
}

function read(): Sheet {
  try {
    const sheet = JSON.parse(localStorage.getItem(KEPT) ?? 'null') as Sheet | null;
    if (sheet && Array.isArray(sheet.lines)) return sheet;
  } catch {
    // Not ours, or not to be had: an empty one.
  }
  return { key: crypto.randomUUID(), lines: [] };
}

function keep(sheet: Sheet): void {
  if (sheet.lines.length === 0) localStorage.removeItem(KEPT);
  else localStorage.setItem(KEPT, JSON.stringify(sheet));
}

type Context = Pick<Pressed, 'origin' | 'visitor' | 'locale'>;

/**
 * Puts a product on the sheet and shows it. Where no variant is chosen, as on a listing, it is the first that can be asked
 * for; the sheet lets the shopper choose another.
 */
export function addToSheet({ variantId, path, title, like, html, decisions, ...context }: Pressed): void {
  const text = wordsIn(context.locale);
  void variantsAt(context, path).then((all) => {
    const variants = all.filter(({ id }) => id === variantId || decisions?.get(id)?.control.kind === 'quote');
    const chosen = variantId ?? variants[0]?.id;
    if (chosen === undefined) {
      location.assign(path);
      return;
    }
    const sheet = read();
    if (sheet.lines.some((line) => line.variantId === chosen)) {
      openSheet(like, context, escaped(text('onSheet')));
      return;
    }
    const line = {
      variantId: chosen,
      title: lineTitle(
        title,
        variants.find(({ id }) => id === chosen),
      ),
      product: title,
      variants,
      quantity: unitsNear(like),
      note: '',
    };
    keep({ ...sheet, lines: [...sheet.lines, line] });
    marker(context);
    openSheet(like, context, html ?? escaped(text('added')));
  });
}

/** Lines after one of them became another variant: two lines of one variant become one. */
function withVariant(lines: readonly Line[], line: Line, variant: Variant): Line[] {
  const there = lines.find(({ variantId }) => variantId === variant.id);
  const changed = { ...line, variantId: variant.id, title: lineTitle(line.product ?? line.title, variant) };
  const note = [there?.note, line.note].filter(Boolean).join('; ').slice(0, MOST_WORDS);
  const joined = there ? { ...there, quantity: there.quantity + line.quantity, note } : changed;
  return lines.flatMap((one) => (one === there ? [] : one.variantId === line.variantId ? [joined] : [one]));
}

const escaped = (words: string) => element('p', words).innerHTML;

/** Quantity in the page's own field beside the stand-in. */
function unitsNear(like: Element): number {
  const units = Math.floor(Number(unitsBox(like.closest('form'))?.value));
  return units > 0 ? units : 1;
}

/** An element of the shop's own page for the sheet: it stands there, and no button leads to it. */
const PLACE = '[data-understudy-quote-sheet]';

let button: HTMLButtonElement | undefined;

/** Says on every page how many lines the sheet has, and opens it; gone when it is empty. */
export function marker(context: Context): void {
  const { lines } = read();
  const place = document.querySelector<HTMLElement>(PLACE);
  if (place) {
    if (!place.shadowRoot) openSheet(place, context, '');
    return;
  }
  if (lines.length === 0) {
    button?.remove();
    button = undefined;
    return;
  }
  const text = wordsIn(context.locale);
  if (!button) {
    button = document.createElement('button');
    button.type = 'button';
    button.setAttribute('data-understudy-sheet', '');
    button.style.cssText = `position: fixed; inset-block-end: 1rem; inset-inline-end: 1rem; z-index: 2147483000; padding: 0.6em 1em; font: inherit; color: Canvas; background: CanvasText; border: 0; border-radius: 999px; cursor: pointer;`;
    document.body.append(button);
  }
  const pressed = button;
  pressed.textContent = `${text('sheet')} (${lines.length})`;
  pressed.onclick = () => {
    openSheet(pressed, context, '');
  };
}

/** The sheet: changed, emptied, sent. */
function openSheet(like: Element, { origin, visitor, locale }: Context, added: string): void {
  const text = wordsIn(locale);
  const { body, status, statusHtml } =
    like instanceof HTMLElement && like.matches(PLACE)
      ? openInline(text('lines'), like)
      : openDialog(text('quote'), { about: text('lines'), like, text });
  const table = document.createElement('table');
  /** Keeps a change; the rows stay as they are, so that nobody is thrown out of the box they are in. */
  const change = (variantId: string, how: Partial<Line> | null) => {
    const sheet = read();
    const lines = sheet.lines.flatMap((line) =>
      line.variantId !== variantId ? [line] : how === null ? [] : [{ ...line, ...how }],
    );
    keep({ ...sheet, lines });
    marker({ origin, visitor, locale });
  };
  const draw = () => {
    table.replaceChildren(...read().lines.map(rowOf));
    showParts();
  };
  /** Redraws the parts around the rows, which stay: somebody may be writing in them. */
  const showParts = () => {
    const { lines } = read();
    for (const part of [empty, form?.form]) part?.toggleAttribute('hidden', lines.length === 0);
    if (lines.length > 0) return;
    if (form?.empty) statusHtml(form.empty);
    else status(text('emptySheet'));
  };
  const variantBox = (line: Line, variants: readonly Variant[]) => {
    const box = document.createElement('select');
    box.ariaLabel = `${text('option')}: ${line.product ?? line.title}`;
    box.append(...variants.map(({ id, title }) => new Option(title, id, id === line.variantId, id === line.variantId)));
    box.addEventListener('change', () => {
      const variant = variants.find(({ id }) => id === box.value);
      const sheet = read();
      const now = sheet.lines.find(({ variantId }) => variantId === line.variantId);
      if (variant && now) keep({ ...sheet, lines: withVariant(sheet.lines, now, variant) });
      marker({ origin, visitor, locale });
      draw();
      table.querySelector<HTMLElement>(`select[data-variant="${CSS.escape(box.value)}"]`)?.focus();
    });
    box.dataset.variant = line.variantId;
    return box;
  };
  const rowOf = (line: Line) => {
    const { variantId, title, quantity, note, product, variants = [] } = line;
    const row = document.createElement('tr');
    const cell = (...nodes: (Node | string)[]) => {
      const made = document.createElement('td');
      made.append(...nodes);
      row.append(made);
      return made;
    };
    const input = (name: 'units' | 'note', value: string, changed: (value: string) => Partial<Line>) => {
      const made = document.createElement('input');
      made.type = name === 'units' ? 'number' : 'text';
      made.min = '1';
      made.value = value;
      made.placeholder = text(name);
      made.ariaLabel = `${text(name)}: ${title}`;
      made.maxLength = MOST_WORDS;
      made.addEventListener('change', () => {
        change(variantId, changed(made.value));
      });
      return made;
    };
    const off = element('button', text('takeOff'));
    off.type = 'button';
    off.className = 'quiet';
    off.ariaLabel = `${text('takeOff')}: ${title}`;
    off.addEventListener('click', () => {
      change(variantId, null);
      draw();
    });
    const units = (value: string) => ({ quantity: Math.max(1, Math.floor(Number(value)) || 1) });
    if (product !== undefined && variants.length > 1) cell(product, variantBox(line, variants));
    else cell(title);
    cell(input('units', String(quantity), units)).className = 'units';
    cell(input('note', note, (value) => ({ note: value })));
    cell(off);
    return row;
  };
  const empty = element('button', text('emptyIt'));
  empty.type = 'button';
  empty.className = 'quiet';
  empty.addEventListener('click', () => {
    keep({ ...read(), lines: [] });
    marker({ origin, visitor, locale });
    draw();
  });
  body.append(table, empty);
  statusHtml(added);
  let form: Awaited<ReturnType<typeof personForm>> | undefined;
  draw();
  void personForm({ origin, locale, visitor }, 'quote', text).then(
    (made) => {
      form = made;
      body.append(made.form);
      showParts();
      made.form.addEventListener('submit', (event) => {
        event.preventDefault();
        const { key, lines } = read();
        made.button.disabled = true;
        status(text('busy'));
        const requestLines = lines.map(({ variantId, quantity, note }) => ({
          variantId,
          quantity,
          ...(note && { note }),
        }));
        void call(`${origin}/v1/quotes`, { ...made.values(), lines: requestLines, key, visitor, locale }).then(
          (answer) => {
            made.button.disabled = false;
            if (!answer?.ok) {
              if (answer && isAbout(answer, '/email')) made.askWho();
              status(answer ? problemIn(answer) : text('unreached'));
              return;
            }
            keep({ key, lines: [] });
            marker({ origin, visitor, locale });
            body.replaceChildren();
            finish(answer, statusHtml);
          },
        );
      });
    },
    () => {
      status(text('unreached'));
    },
  );
}
