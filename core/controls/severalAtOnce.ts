import { z } from 'zod';
import { beside, defineControl, kind, labelled, shared, LABELLED } from './control.ts';
import { verb } from './telling.ts';

/** Several variants go into the cart in one step. */
export const severalAtOnce = defineControl({
  kind: 'severalAtOnce',
  schema: z.strictObject({ ...kind('severalAtOnce'), ...labelled, ...beside }),
  decided: z.strictObject({ ...kind('severalAtOnce'), ...shared }),
  resolve:
    (_control, { parts }) =>
    (subject) => ({ kind: 'severalAtOnce' as const, ...parts(subject) }),
  name: 'several at once',
  shortName: 'several',
  shape: 'stacked',
  defaultLabel: 'label.severalAtOnce',
  texts: {
    'label.severalAtOnce': {
      en: 'Add all to cart',
      fr: 'Tout ajouter au panier',
      de: 'Alles in den Warenkorb',
      es: 'Añadir todo al carrito',
      it: 'Aggiungi tutto al carrello',
      nl: 'Alles in de winkelwagen',
      pt: 'Adicionar tudo ao carrinho',
      pl: 'Dodaj wszystko do koszyka',
      sv: 'Lägg allt i varukorgen',
      ja: 'すべてカートに追加',
    },
  },
  sells: true,
  formTitle: 'dialog.several',
  refusal: 'notForSale',
  verb: verb('let several variants be added at once'),
  labelled: ', labelled ',
  offered: {
    label: 'Several at once',
    means: 'Several variants go into the cart in one step.',
    first: { kind: 'severalAtOnce' },
    parts: LABELLED,
  },
});
