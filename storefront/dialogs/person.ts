import { element, field, type FieldHow } from './dialog.ts';
import type { Texts } from './words.ts';

interface AskedField extends FieldHow {
  readonly name: string;
  readonly label: string;
}

/** One of the owner's forms, with its fields and the sender's. */
export interface PersonForm {
  readonly form: HTMLFormElement;
  readonly button: HTMLButtonElement;
  /** Text of an empty sheet, safe HTML; null for the default. */
  readonly empty: string | null;
  /** Values entered, in the form of the calls. */
  readonly values: () => { email: string | undefined; name: string | undefined; answers: Record<string, string> };
  /** Has them say who they are after all: somebody who is signed in may not be known well enough. */
  readonly askWho: () => void;
}

/**
 * Signed-in visitors are not asked for their name and address.
 * @throws {Error} when the form cannot be read
 */
export async function personForm(
  { origin, locale, visitor }: { origin: string; locale?: string | undefined; visitor?: string | undefined },
  code: string,
  text: Texts,
): Promise<PersonForm> {
  const query = locale ? `?locale=${encodeURIComponent(locale)}` : '';
  const response = await fetch(`${origin}/v1/forms/${encodeURIComponent(code)}${query}`, { credentials: 'omit' });
  if (!response.ok) throw new Error(`answered ${response.status}`);
  const { fields, empty } = (await response.json()) as { fields: AskedField[]; empty: string | null };
  const form = document.createElement('form');
  const button = element('button', text('send'));
  form.append(
    ...fields.map(({ label, name, ...how }) =>
      field(label, name, how.required ? how : { ...how, hint: text('optional') }),
    ),
    button,
  );
  const askWho = () => {
    if (form.querySelector('[name=understudy-email]')) return;
    button.before(
      field(text('email'), 'understudy-email', { kind: 'email', required: true, autocomplete: 'email' }),
      field(text('name'), 'understudy-name', { autocomplete: 'name', hint: text('optional') }),
    );
  };
  if (visitor === undefined) askWho();
  const values: PersonForm['values'] = () => {
    const all = new FormData(form);
    const of = (name: string) => {
      const value = all.get(name);
      return typeof value === 'string' ? value : '';
    };
    const answers = Object.fromEntries(fields.map(({ name }) => [name, of(name)]));
    return { email: of('understudy-email') || undefined, name: of('understudy-name') || undefined, answers };
  };
  return { form, button, empty, values, askWho };
}
