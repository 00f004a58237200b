import { call, problemIn } from './call.ts';
import { element, field, openDialog } from './dialog.ts';
import type { Pressed } from './serve.ts';
import { wordsIn } from './words.ts';

/** Who is signed in is put on the list at once; others say where a link can reach them. */
export function openWaitlist(pressed: Pressed): void {
  const { origin, path, variantId, title, like, html, visitor, locale, account, signInAt, changed } = pressed;
  const say = wordsIn(locale);
  const { body, status, statusHtml } = openDialog(say('waitlist'), { about: title, like, say });
  const send = async (said: object): Promise<boolean> => {
    status(say('busy'));
    const answer = await call(`${origin}/v1/waitlist-entries`, { path, variantId, visitor, locale, ...said });
    if (!answer?.ok) {
      status(answer ? problemIn(answer) : say('unreached'));
      return false;
    }
    body.replaceChildren();
    statusHtml((answer.body as { html: string }).html);
    changed();
    return true;
  };
  if (html) {
    const says = document.createElement('div');
    says.innerHTML = html;
    body.append(says);
  }
  if (account === 'required' && visitor === undefined) {
    // Nobody fills in a form that is then refused.
    body.append(element('p', say('accountFirst')));
    if (signInAt) body.append(Object.assign(element('a', say('signIn')), { href: signInAt }));
    return;
  }
  const form = document.createElement('form');
  const button = element('button', say('join'));
  form.append(
    field(say('email'), 'email', { kind: 'email', required: true, autocomplete: 'email' }),
    field(say('name'), 'name', { autocomplete: 'name', hint: say('optional') }),
    button,
  );
  form.addEventListener('submit', (event) => {
    event.preventDefault();
    const said = new FormData(form);
    button.disabled = true;
    void send({ email: said.get('email'), name: said.get('name') || undefined }).finally(() => {
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
