import { call, problemIn } from './call.ts';
import { openDialog } from './dialog.ts';
import { personForm } from './person.ts';
import type { Pressed } from './serve.ts';
import { wordsIn } from './words.ts';

/** The contact form that stands for a product; the question carries the product along. */
export function openEnquiry({
  origin,
  path,
  variantId,
  title,
  like,
  visitor,
  locale,
  form: code = 'contact',
}: Pressed): void {
  const say = wordsIn(locale);
  const { body, status, statusHtml } = openDialog(say('enquiry'), { about: title, like, say });
  void personForm(origin, code, locale, say).then(
    ({ form, button, said }) => {
      body.append(form);
      form.querySelector<HTMLElement>('textarea, input, select')?.focus();
      form.addEventListener('submit', (event) => {
        event.preventDefault();
        button.disabled = true;
        status(say('busy'));
        void call(`${origin}/v1/enquiries`, { path, variantId, visitor, locale, ...said() }).then((answer) => {
          button.disabled = false;
          if (!answer?.ok) {
            status(answer ? problemIn(answer) : say('unreached'));
            return;
          }
          body.replaceChildren();
          statusHtml((answer.body as { html: string }).html);
        });
      });
    },
    () => {
      status(say('unreached'));
    },
  );
}
