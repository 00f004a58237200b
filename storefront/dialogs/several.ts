import { element, openDialog } from './dialog.ts';
import { variantsAt, type Variant } from './goods.ts';
import { money } from './money.ts';
import { pageFormOf, sendPageForm, unitsBox, type PageForm } from './ownForm.ts';
import type { Decided, Pressed } from './pressed.ts';
import { wordsIn } from './words.ts';

/** All sizes of a product with a box each, put into the shop's cart one after the other by its own form. */
export function openSeveral({ origin, like, title, path, locale, decisions }: Pressed): void {
  const pageForm = pageFormOf(like);
  const units = pageForm && unitsBox(pageForm.form)?.name;
  const variant = pageForm && nameOfVariant(pageForm, decisions);
  if (!pageForm || !units || variant === null || !decisions) {
    location.assign(path);
    return;
  }
  const text = wordsIn(locale);
  const { body, status } = openDialog(text('several'), { about: title, like, text });
  void variantsAt({ origin, locale }, path).then((variants) => {
    const offered = variants.filter(({ id }) => decisions.get(id)?.control.kind === 'severalAtOnce');
    if (offered.length === 0) status(text('unreached'));
    else body.append(formOf(offered));
  });

  const formOf = (variants: readonly Variant[]) => {
    const form = document.createElement('form');
    const table = document.createElement('table');
    const boxes = variants.map(({ id, title: size }) => {
      const { amount, currency } = decisions.get(id)!.price;
      const box = document.createElement('input');
      Object.assign(box, { type: 'number', min: '0', value: '0', ariaLabel: `${text('units')}: ${size}` });
      const row = table.insertRow();
      row.insertCell().textContent = size;
      row.insertCell().textContent = amount === null ? '' : money(amount, currency, locale);
      const cell = row.insertCell();
      cell.className = 'units';
      cell.append(box);
      return { id, size, box };
    });
    const button = element('button', text('putAllIn'));
    form.append(table, button);
    form.addEventListener('submit', (event) => {
      event.preventDefault();
      const wanted = boxes.filter(({ box }) => box.valueAsNumber > 0);
      button.disabled = true;
      status(text(wanted.length === 0 ? 'chooseSome' : 'busy'));
      void putIn(wanted).finally(() => {
        button.disabled = false;
      });
    });
    return form;
  };

  /** Adds them one by one, so that it is known which are in when one is refused. */
  const putIn = async (wanted: readonly { id: string; size: string; box: HTMLInputElement }[]) => {
    let led: string | null = null;
    for (const { id, size, box } of wanted) {
      led = await sendPageForm(pageForm, { [variant]: id, [units]: box.value }).catch(() => null);
      if (led === null) {
        status(`${size}: ${text('notPutIn')}`);
        return;
      }
      box.value = '0';
    }
    if (led !== null) location.assign(led);
  };
}

/** The form's field for the variant: the one that holds one of these ids now. */
function nameOfVariant({ form }: PageForm, decisions: ReadonlyMap<string, Decided> | undefined): string | null {
  const found = [...new FormData(form)].find(([, value]) => typeof value === 'string' && decisions?.has(value));
  return found?.[0] ?? null;
}
