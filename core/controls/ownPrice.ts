import { z } from 'zod';
import { beside, defineControl, kind, labelled, Minor, shared, LABELLED } from './control.ts';
import { term, verb } from './telling.ts';

/** Shoppers name their price, from a minimum. */
export const ownPrice = defineControl({
  kind: 'ownPrice',
  schema: z.strictObject({
    ...kind('ownPrice'),
    ...labelled,
    ...beside,
    min: Minor.optional(),
    suggested: Minor.optional(),
  }),
  issueOf: ({ min = 0, suggested = Infinity }) =>
    suggested < min ? { path: ['suggested'], message: 'no less than the minimum price' } : null,
  decided: z.strictObject({
    ...kind('ownPrice'),
    ...shared,
    min: z.int().describe('Minor units').nullable(),
    suggested: z.int().describe('Minor units').nullable(),
  }),
  resolve:
    ({ min = null, suggested = null }, { parts }) =>
    (subject) => ({ kind: 'ownPrice' as const, ...parts(subject), min, suggested }),
  name: 'a price of their own',
  shortName: 'own price',
  shape: 'underlined',
  defaultLabel: 'label.ownPrice',
  texts: {
    'label.ownPrice': {
      en: 'Add at my price',
      fr: 'Ajouter à mon prix',
      de: 'Zu meinem Preis in den Warenkorb',
      es: 'Añadir a mi precio',
      it: 'Aggiungi al mio prezzo',
      nl: 'Toevoegen voor mijn prijs',
      pt: 'Adicionar pelo meu preço',
      pl: 'Dodaj za moją cenę',
      sv: 'Lägg till för mitt pris',
      ja: 'この価格で追加',
    },
  },
  sells: true,
  buyersPrice: ({ min, suggested }) => ({ minimum: min ?? 0, usual: suggested ?? min }),
  isShopOnly: true,
  formTitle: 'dialog.ownPrice',
  refusal: 'notForSale',
  verb: verb('let the buyer name the price'),
  labelled: ', labelled ',
  terms: ({ min, suggested }, telling) => {
    const price = telling.names.price ?? ((minor: number) => `${minor} in minor units`);
    return [
      ...term(min !== undefined && `at least ${price(min)}`, 'min', telling),
      ...term(suggested !== undefined && `suggesting ${price(suggested)}`, 'suggested', telling),
    ];
  },
  details: ({ min, suggested }, price) => [
    min !== null && `from ${price(min)}`,
    suggested !== null && `suggests ${price(suggested)}`,
  ],
  offered: {
    label: 'The buyer’s own price',
    means: 'Shoppers name their price.',
    first: { kind: 'ownPrice' },
    parts: [...LABELLED, 'min', 'suggested'],
  },
});
