import { element, field, openDialog } from './dialog.ts';
import { exponentOf, money } from './money.ts';
import { pageFormOf, submitPageForm } from './ownForm.ts';
import type { Pressed } from './pressed.ts';
import { wordsIn } from './words.ts';

/** The name of the field that carries the shopper's price, in minor units, with the shop's own form. */
const FIELD = 'understudy-price';

/** Asks for the shopper's price, and presses the shop's control with it. The guard enforces the minimum. */
export function openBuyersPrice({ like, title, path, locale, min, suggested, decisions }: Pressed): void {
  const pageForm = pageFormOf(like);
  const [first] = decisions?.values() ?? [];
  if (!pageForm || !first) {
    location.assign(path);
    return;
  }
  const text = wordsIn(locale);
  const { currency } = first.price;
  const scale = 10 ** exponentOf(currency);
  const { body, close } = openDialog(text('ownPrice'), { about: title, like, text });
  const form = document.createElement('form');
  const hint = min ? `${text('atLeast')} ${money(min, currency, locale)}` : '';
  const label = field(`${text('yourPrice')} (${currency})`, 'price', { kind: 'number', required: true, hint });
  const input = label.querySelector('input')!;
  input.min = String((min ?? 0) / scale);
  input.step = String(1 / scale);
  if (suggested) input.value = (suggested / scale).toFixed(exponentOf(currency));
  form.append(label, element('button', text('putIn')));
  form.addEventListener('submit', (event) => {
    event.preventDefault();
    const price = Math.round(input.valueAsNumber * scale);
    close();
    submitPageForm(pageForm, { [FIELD]: String(price) });
  });
  body.append(form);
  input.select();
}
