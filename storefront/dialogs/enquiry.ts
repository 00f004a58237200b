import { call, isAbout, problemIn } from './call.ts';
import { openDialog, openInline } from './dialog.ts';
import { lineTitle, variantsAt } from './goods.ts';
import { personForm } from './person.ts';
import type { Pressed } from './pressed.ts';
import { wordsIn } from './words.ts';

/** The contact form that stands for a product, in a dialog or on the page; the question carries the product along. */
export function openEnquiry(pressed: Pressed): void {
  const { origin, path, title, label, like, visitor, locale, form: formCode = 'contact', open: where } = pressed;
  const text = wordsIn(locale);
  // The form has no place here, as on a listing, so a link was pressed.
  const isInline = where === 'inline' && like instanceof HTMLElement && !(like instanceof HTMLAnchorElement);
  const { body, status, statusHtml, about } = isInline
    ? openInline(label ?? text('enquiry'), like)
    : openDialog(text('enquiry'), { about: title, like, text });
  if (typeof formCode !== 'string') {
    // Another page of the shop's own, shown here.
    const page = document.createElement('iframe');
    page.src = formCode.page;
    page.title = text('enquiry');
    body.append(page);
    return;
  }
  const { variantId: chosen, decisions } = pressed;
  if (!isInline && chosen !== undefined && (decisions?.size ?? 0) > 1)
    void variantsAt(pressed, path).then((variants) => {
      about(
        lineTitle(
          title,
          variants.find(({ id }) => id === chosen),
        ),
      );
    });
  void personForm(pressed, formCode, text).then(
    ({ form, button, values, askWho }) => {
      body.append(form);
      if (!isInline) form.querySelector<HTMLElement>('textarea, input, select')?.focus();
      form.addEventListener('submit', (event) => {
        event.preventDefault();
        button.disabled = true;
        status(text('busy'));
        // Uses the current choice: the form may be older.
        const { variantId } = pressed;
        void call(`${origin}/v1/enquiries`, { path, variantId, visitor, locale, ...values() }).then((answer) => {
          button.disabled = false;
          if (!answer?.ok) {
            if (answer && isAbout(answer, '/email')) askWho();
            status(answer ? problemIn(answer) : text('unreached'));
            return;
          }
          body.replaceChildren();
          finish(answer, statusHtml);
        });
      });
    },
    () => {
      status(text('unreached'));
    },
  );
}

/** Shows the confirmation, or goes on to the form's page. */
export function finish({ body }: { readonly body: unknown }, statusHtml: (html: string) => void): void {
  const { html, goTo } = body as { html: string; goTo: string | null };
  statusHtml(html);
  if (goTo !== null) location.assign(goTo);
}
