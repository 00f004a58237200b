import { z } from 'zod';
import { words } from '../facts/segment.ts';
import { textWords } from '../facts/wording.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { html } from '../texts/textRenderers.ts';
import { beside, DecidedNotice, defineControl, kind } from './control.ts';
import { outcome } from './telling.ts';

/** A line of text. */
export const notice = defineControl({
  kind: 'notice',
  schema: z.strictObject({ ...kind('notice'), ...beside, text: LocalisedText }),
  decided: DecidedNotice,
  resolve: ({ text }, { shop, parts }) => {
    const render = html(text, shop);
    return (subject) => ({ kind: 'notice' as const, ...parts(subject), html: render(subject) });
  },
  name: 'a line of text',
  shortName: 'text',
  shape: 'text',
  defaultLabel: null,
  sells: false,
  isText: true,
  refusal: 'notForSale',
  availability: 'OutOfStock',
  isClosure: true,
  listingOrder: 6,
  verb: ({ text }, { names, pointer }) => [
    outcome('show', pointer),
    words(' '),
    outcome(textWords(text, names), `${pointer}/text`),
  ],
  labelled: null,
  terms: (control) => (control.beside ? [] : [words(' instead of the button')]),
  offered: {
    label: 'A line of text',
    means: 'A line of text is shown instead of the button.',
    first: { kind: 'notice', text: { en: 'Not sold here' } },
    parts: ['beside', 'text'],
  },
});
