import { z } from 'zod';
import { bounds, dateWords, durationWords } from '../facts/wording.ts';
import { parseDuration, parseLocal } from '../model/calendar.ts';
import type { Subject } from '../model/subject.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { html } from '../texts/textRenderers.ts';
import { beside, defineControl, kind, labelled, NO_PARTS, shared, type Cap, LABELLED } from './control.ts';
import { quoting, term, verb } from './telling.ts';

const Day = z.iso.date();
const Lead = z
  .string()
  .refine(
    (text) => parseDuration(text) !== null && !text.startsWith('-'),
    'an ISO 8601 duration in whole units, such as P14D',
  );

const Preorder = z.strictObject({
  ...kind('preorder'),
  ...labelled,
  ...beside,
  cap: z.strictObject({ units: z.int().min(1), per: z.enum(['variant', 'product']) }).optional(),
  ships: z
    .union([
      z.strictObject({ within: Lead }),
      z
        .strictObject({ from: Day.optional(), until: Day.optional() })
        .refine(({ from, until }) => from !== undefined || until !== undefined, 'at least one of from and until')
        .refine(
          ({ from, until }) =>
            from === undefined || until === undefined || (parseLocal(from) ?? 0) <= (parseLocal(until) ?? 0),
          'from no later than until',
        ),
    ])
    .optional(),
  atCap: z.enum(['next', 'close']).optional(),
  closedText: LocalisedText.optional(),
});
type Preorder = z.infer<typeof Preorder>;

/** Shoppers reserve what has not come in yet, up to a cap. */
export const preorder = defineControl({
  kind: 'preorder',
  schema: Preorder,
  issueOf: ({ cap, atCap, closedText }) => {
    if (cap === undefined && atCap !== undefined) return { path: ['atCap'], message: 'only together with a cap' };
    if (atCap === 'close' && closedText === undefined)
      return { path: ['closedText'], message: 'the words that take its place once the cap is reached' };
    if (atCap !== 'close' && closedText !== undefined)
      return { path: ['closedText'], message: 'only where the pre-order closes at its cap' };
    return null;
  },
  decided: z.strictObject({
    ...kind('preorder'),
    ...shared,
    left: z.int().min(0).nullable().describe('Units left of its cap; null without one'),
    per: z.enum(['variant', 'product']).nullable().describe('What the cap counts; null without one'),
    ships: z
      .strictObject({
        from: z.iso.date().nullable(),
        until: z.iso.date().nullable(),
        within: z.string().nullable().describe('ISO 8601 duration'),
      })
      .nullable(),
  }),
  resolve: (control, { shop, parts }) => {
    const per = control.cap?.per ?? null;
    const ships = control.ships ? shipping(control.ships) : null;
    const closed = control.closedText === undefined ? null : html(control.closedText, shop);
    return (subject) => {
      const left = control.cap ? unitsLeft(control.cap, subject) : null;
      return left === 0 && closed
        ? { kind: 'notice' as const, ...NO_PARTS, beside: control.beside === true, html: closed(subject, left) }
        : { kind: 'preorder' as const, ...parts(subject, left), left, per, ships };
    };
  },
  mayClose: ({ closedText }) => closedText !== undefined,
  name: 'a pre-order',
  shortName: 'pre-order',
  shape: 'framed',
  defaultLabel: 'label.preorder',
  texts: {
    'label.preorder': {
      en: 'Pre-order',
      fr: 'Précommander',
      de: 'Vorbestellen',
      es: 'Reservar',
      it: 'Preordina',
      nl: 'Vooraf bestellen',
      pt: 'Reservar',
      pl: 'Zamów przed premierą',
      sv: 'Förbeställ',
      ja: '予約する',
    },
    closed: {
      en: 'All of these are reserved.',
      fr: 'Tout est réservé.',
      de: 'Alle sind reserviert.',
      es: 'Todo está reservado.',
      it: 'Sono tutti prenotati.',
      nl: 'Alles is gereserveerd.',
      pt: 'Está tudo reservado.',
      pl: 'Wszystkie są zarezerwowane.',
      sv: 'Alla är reserverade.',
      ja: '予約はすべて埋まりました。',
    },
  },
  sells: true,
  reserves: (control) => control,
  cap: ({ cap, atCap }) => cap && { ...cap, passesOn: atCap !== 'close' },
  withCap: ({ cap, ...control }, mostUnits) => ({
    ...control,
    cap: { per: cap?.per ?? 'variant', units: Math.min(cap?.units ?? mostUnits, mostUnits) },
  }),
  needsTerms: true,
  relabelsShopButton: true,
  formTitle: 'label',
  refusal: 'capReached',
  availability: 'PreOrder',
  answers: ['reserved'],
  verb: verb('take pre-orders'),
  labelled: ', labelled ',
  terms: ({ cap, ships, atCap, closedText }, telling) => [
    ...term(cap && `at most ${cap.units} unit${cap.units === 1 ? '' : 's'} of a ${cap.per}`, 'cap', telling),
    ...term(
      cap && (atCap === 'close' ? quoting('then show', closedText, telling) : 'then let the rules below decide'),
      'atCap',
      telling,
    ),
    ...term(ships && shippingWords(ships), 'ships', telling),
  ],
  details: ({ left, ships }) => {
    const dates = [ships?.from, ships?.until].filter((day) => typeof day === 'string');
    return [
      left !== null && `${left} left`,
      dates.length > 0 && `ships ${dates.join('–')}`,
      typeof ships?.within === 'string' && `ships in ${ships.within.replace(/^P(\d+)D$/, '$1 days')}`,
    ];
  },
  offered: {
    label: 'A pre-order',
    means: 'Shoppers reserve now, and get the goods when they ship.',
    first: { kind: 'preorder' },
    parts: [...LABELLED, 'cap', 'atCap', 'ships'],
  },
});

/** Units left of a cap. */
export function unitsLeft({ units, per }: Cap, { product, variant }: Subject): number {
  const counted = per === 'product' ? (product?.variants ?? []) : variant ? [variant] : [];
  return Math.max(0, units - counted.reduce((sum, { reserved }) => sum + reserved, 0));
}

const shipping = (ships: { from?: string | undefined; until?: string | undefined; within?: string }) => ({
  from: ships.from ?? null,
  until: ships.until ?? null,
  within: ships.within ?? null,
});

function shippingWords(ships: NonNullable<Preorder['ships']>): string {
  if (!('within' in ships)) return `shipping ${bounds(ships, dateWords)}`;
  const duration = parseDuration(ships.within);
  const size = duration ? durationWords(duration) : ships.within;
  return size === '' ? 'shipping at once' : `shipping within ${size}`;
}
