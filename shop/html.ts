/** Markup that is safe to send. */
export class Html {
  constructor(readonly markup: string) {}
}

type Part = string | number | null | undefined | false | Html | readonly (Html | null)[];

/** Inserts safe HTML from Understudy unchanged. */
export const safe = (markup: string): Html => new Html(markup);

/** A template whose values are escaped, unless they are markup themselves. */
export function html(parts: TemplateStringsArray, ...values: Part[]): Html {
  return new Html(parts.reduce((before, part, index) => before + markupOf(values[index - 1]) + part));
}

function markupOf(value: Part): string {
  if (value === null || value === undefined || value === false) return '';
  if (value instanceof Html) return value.markup;
  if (typeof value === 'object') return value.map(markupOf).join('');
  return String(value).replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
}
