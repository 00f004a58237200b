import { call, problemIn } from './call.ts';
import { element, field, openDialog } from './dialog.ts';
import type { Pressed } from './pressed.ts';
import { wordsIn } from './words.ts';

/** Adds signed-in visitors to the list at once; others give an address for a confirmation link. */
export function openWaitlist(pressed: Pressed): void {
  const { origin, path, variantId, title, like, html, visitor, locale, account, signInAt, changed } = pressed;
  const text = wordsIn(locale);
  const { body, status, statusHtml } = openDialog(text('waitlist'), { about: title, like, text });
  const send = async (fields: object): Promise<boolean> => {
    status(text('busy'));
    const answer = await call(`${origin}/v1/waitlist-entries`, { path, variantId, visitor, locale, ...fields });
    if (!answer?.ok) {
      status(answer ? problemIn(answer) : text('unreached'));
      return false;
    }
    body.replaceChildren();
    statusHtml((answer.body as { html: string }).html);
    changed();
    return true;
  };
  if (html) {
    const message = document.createElement('div');
    message.innerHTML = html;
    body.append(message);
  }
  if (account === 'required' && visitor === undefined) {
    // Nobody fills in a form that is then refused.
    body.append(element('p', text('accountFirst')));
    if (signInAt) body.append(Object.assign(element('a', text('signIn')), { href: signInAt }));
    return;
  }
  const form = document.createElement('form');
  const button = element('button', text('join'));
  form.append(
    field(text('email'), 'email', { kind: 'email', required: true, autocomplete: 'email' }),
    field(text('name'), 'name', { autocomplete: 'name', hint: text('optional') }),
    button,
  );
  form.addEventListener('submit', (event) => {
    event.preventDefault();
    const formData = new FormData(form);
    button.disabled = true;
    void send({ email: formData.get('email'), name: formData.get('name') || undefined }).finally(() => {
      button.disabled = false;
    });
  });
  if (visitor === undefined) {
    body.append(form);
    form.querySelector('input')?.focus();
    return;
  }
  void send({}).then((joined) => {
    if (joined) return;
    // Once more, by hand: the line may be back, or an account without an address needs one.
    body.append(form);
  });
}
