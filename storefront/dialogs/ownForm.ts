/** The shop's own control that a stand-in took the place of, or stands beside, and its form. */
export interface PageForm {
  readonly control: HTMLElement;
  readonly form: HTMLFormElement;
}

/** @returns null where the shop's control sends no form */
export function pageFormOf(standIn: Element): PageForm | null {
  const control = standIn.previousElementSibling;
  const form =
    control instanceof HTMLButtonElement || control instanceof HTMLInputElement
      ? control.form
      : control?.closest('form');
  return control instanceof HTMLElement && form ? { control, form } : null;
}

/** The box of a form that says how many. */
export const unitsBox = (form: Element | null): HTMLInputElement | null =>
  form?.querySelector<HTMLInputElement>('input[type=number]') ?? null;

/** Presses the shop's own control, as if it had stood there, with more in its form. */
export function submitPageForm({ control, form }: PageForm, more: Readonly<Record<string, string>>): void {
  for (const [name, value] of Object.entries(more)) {
    const kept = form.querySelector<HTMLInputElement>(`input[type=hidden][name="${name}"]`);
    const field = kept ?? document.createElement('input');
    field.type = 'hidden';
    field.name = name;
    field.value = value;
    form.append(field);
  }
  const button = control as HTMLButtonElement;
  const was = button.disabled;
  // A control that is away has been disabled.
  button.disabled = false;
  button.click();
  button.disabled = was;
}

/** Sends the shop's own form without leaving the page. @returns where it led; null when it was refused */
export async function sendPageForm(
  { form }: PageForm,
  fields: Readonly<Record<string, string>>,
): Promise<string | null> {
  const body = new URLSearchParams();
  for (const [name, value] of new FormData(form)) if (typeof value === 'string') body.append(name, value);
  for (const [name, value] of Object.entries(fields)) body.set(name, value);
  const response = await fetch(form.action, { method: 'POST', body });
  return response.ok ? response.url : null;
}
