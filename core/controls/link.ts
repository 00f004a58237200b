import { z } from 'zod';
import { speech } from '../facts/wording.ts';
import { Href } from '../texts/hrefSchema.ts';
import { href } from '../texts/textRenderers.ts';
import { beside, defineControl, kind, labelled, shared, LABELLED } from './control.ts';
import { term, verb } from './telling.ts';

/** A link to another page. */
export const link = defineControl({
  kind: 'link',
  schema: z.strictObject({
    ...kind('link'),
    ...labelled,
    ...beside,
    href: Href,
    newTab: z.boolean().optional(),
  }),
  decided: z.strictObject({ ...kind('link'), ...shared, href: z.string().nullable(), newTab: z.boolean() }),
  resolve: (control, { shop, parts }) => {
    const address = href(control.href, shop);
    const newTab = control.newTab === true;
    return (subject) => ({ kind: 'link' as const, ...parts(subject), href: address(subject), newTab });
  },
  name: 'a link',
  shortName: 'link',
  shape: 'arrow',
  defaultLabel: 'label.link',
  texts: {
    'label.link': {
      en: 'Find out more',
      fr: 'En savoir plus',
      de: 'Mehr erfahren',
      es: 'Más información',
      it: 'Scopri di più',
      nl: 'Meer weten',
      pt: 'Saber mais',
      pl: 'Dowiedz się więcej',
      sv: 'Läs mer',
      ja: '詳しく見る',
    },
  },
  sells: false,
  leadsTo: ({ href }) => [href],
  isShopOnly: true,
  refusal: 'notForSale',
  listingOrder: 5,
  verb: verb('show a link'),
  labelled: ' labelled ',
  terms: (control, telling) =>
    term(`leading to ${speech(control.href)}${control.newTab ? ' in a new tab' : ''}`, 'href', telling),
  offered: {
    label: 'A link',
    means: 'A link leads to another page.',
    first: { kind: 'link', href: '/contact' },
    parts: [...LABELLED, 'href', 'newTab'],
  },
});
