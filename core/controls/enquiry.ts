import { z } from 'zod';
import { quoted, speech } from '../facts/wording.ts';
import { NOTE_PLACE_NAMES, NOTE_PLACES } from '../model/notePlaces.ts';
import { isWebHref } from '../texts/href.ts';
import { WebHref } from '../texts/hrefSchema.ts';
import { href } from '../texts/textRenderers.ts';
import { beside, defineControl, kind, labelled, shared, LABELLED } from './control.ts';
import { term, verb } from './telling.ts';

/** Shoppers write about the product, by one of the shop's forms or on a page of its own. */
export const enquiry = defineControl({
  kind: 'enquiry',
  schema: z.strictObject({
    ...kind('enquiry'),
    ...labelled,
    ...beside,
    form: z.union([z.string().min(1).max(100), z.strictObject({ page: WebHref })]),
    open: z.enum(['inline', 'dialog']),
    place: z.enum(NOTE_PLACES).optional(),
  }),
  decided: z.strictObject({
    ...kind('enquiry'),
    ...shared,
    form: z.union([z.string(), z.strictObject({ page: z.string() })]),
    open: z.enum(['inline', 'dialog']),
    place: z.enum(NOTE_PLACES).nullable(),
  }),
  resolve: ({ form, open, place = null }, { shop, parts }) => {
    const page = typeof form === 'string' ? null : href(form.page, shop, isWebHref);
    return (subject) => ({
      kind: 'enquiry' as const,
      ...parts(subject),
      form: typeof form === 'string' ? form : { page: page?.(subject) ?? '' },
      open,
      place,
    });
  },
  name: 'an enquiry',
  shortName: 'enquiry',
  shape: 'bubble',
  defaultLabel: 'label.enquiry',
  texts: {
    'label.enquiry': {
      en: 'Ask about this',
      fr: 'Poser une question',
      de: 'Frage stellen',
      es: 'Hacer una pregunta',
      it: 'Fai una domanda',
      nl: 'Stel een vraag',
      pt: 'Fazer uma pergunta',
      pl: 'Zadaj pytanie',
      sv: 'Ställ en fråga',
      ja: '質問する',
    },
  },
  sells: false,
  takesRequests: true,
  leadsTo: ({ form }) => (typeof form === 'string' ? [] : [form.page]),
  formTitle: 'label',
  refusal: 'notForSale',
  listingOrder: 3,
  answers: ['asked'],
  verb: verb('take enquiries'),
  labelled: ', labelled ',
  terms: ({ form, open, place }, telling) => {
    const what = typeof form === 'string' ? `with the form ${quoted(form)}` : `with the page ${speech(form.page)}`;
    const where = open === 'inline' ? 'on the page' : 'in a dialog';
    return term(`${what} ${where}${place ? ` ${NOTE_PLACE_NAMES[place]}` : ''}`, 'form', telling);
  },
  offered: {
    label: 'An enquiry',
    means: 'Shoppers write to you about the product.',
    first: { kind: 'enquiry', form: 'contact', open: 'inline' },
    parts: [...LABELLED, 'form'],
  },
});
