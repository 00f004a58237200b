import { z } from 'zod';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { html } from '../texts/textRenderers.ts';
import { beside, defineControl, kind, labelled, shared, LABELLED } from './control.ts';
import { quoting, term, verb } from './telling.ts';

/** Shoppers gather what they want, and are sent a price. */
export const quote = defineControl({
  kind: 'quote',
  schema: z.strictObject({ ...kind('quote'), ...labelled, ...beside, addedText: LocalisedText.optional() }),
  decided: z.strictObject({ ...kind('quote'), ...shared }),
  resolve: ({ addedText }, { shop, parts }) => {
    const added = addedText === undefined ? null : html(addedText, shop);
    return (subject) => ({ kind: 'quote' as const, ...parts(subject), html: added?.(subject) ?? null });
  },
  name: 'a price on request',
  shortName: 'quote',
  shape: 'pill',
  defaultLabel: 'label.quote',
  texts: {
    'label.quote': {
      en: 'Ask for a price',
      fr: 'Demander un prix',
      de: 'Preis anfragen',
      es: 'Pedir precio',
      it: 'Chiedi un prezzo',
      nl: 'Prijs aanvragen',
      pt: 'Pedir preço',
      pl: 'Zapytaj o cenę',
      sv: 'Fråga om pris',
      ja: '価格を問い合わせる',
    },
  },
  sells: false,
  takesQuantity: true,
  takesRequests: true,
  formTitle: 'label',
  refusal: 'notForSale',
  listingOrder: 2,
  answers: ['asked'],
  verb: verb('take requests for a price'),
  labelled: ', labelled ',
  terms: ({ addedText }, telling) =>
    term(quoting('showing', addedText, telling, ' after adding'), 'addedText', telling),
  offered: {
    label: 'A price on request',
    means: 'Shoppers gather what they want, and you answer with a price.',
    first: { kind: 'quote' },
    parts: [...LABELLED, 'addedText'],
  },
});
