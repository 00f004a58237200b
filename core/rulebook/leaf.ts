import { z } from 'zod';
import { parseDuration, parseLocal, parseTimeOfDay, parseYearDay } from '../model/calendar.ts';
import { STOCK_STATUSES, SURFACES } from '../model/subject.ts';
import { Locale } from './localisedText.ts';

const leaf = <const Fact extends string, const Ops extends readonly [string, ...string[]], Value extends z.ZodType>(
  fact: Fact,
  ops: Ops,
  value: Value,
) => z.strictObject({ fact: z.literal(fact), op: z.enum(ops), value });

const Name = z.string().max(200).regex(/\S/, 'a name');
const Names = z.array(Name).min(1).max(1000);
const listOf = <T extends readonly [string, ...string[]]>(names: T) => z.array(z.enum(names)).min(1);

const Range = z.tuple([z.int(), z.int()]);
const Named = z.strictObject({ name: Name, values: Names });
const Path = z
  .string()
  .max(2000)
  .regex(/^\/[^?#]*$/, 'a path that begins with /, without query or fragment');
const PathPart = z.string().min(1).max(2000);

/** Comparisons of whole numbers: five with one, one with two. */
const compared = <const F extends string>(fact: F) =>
  z.discriminatedUnion('op', [leaf(fact, ['lt', 'lte', 'gt', 'gte', 'eq'], z.int()), leaf(fact, ['between'], Range)]);

const LocalTime = z
  .string()
  .refine((text) => parseLocal(text) !== null, 'a local date or date-time: YYYY-MM-DD or YYYY-MM-DDTHH:MM');
const TimeOfDay = z.string().refine((text) => parseTimeOfDay(text) !== null, 'a time of day: HH:MM');
const YearDay = z.string().refine((text) => parseYearDay(text) !== null, 'a day of the year: MM-DD');
const Duration = z
  .string()
  .refine((text) => parseDuration(text) !== null, 'an ISO 8601 duration in whole units, such as P14D or -P120D');

const BOUND_MISSING = 'at least one of from and until';
const hasBound = ({ from, until }: { from?: string | undefined; until?: string | undefined }) =>
  from !== undefined || until !== undefined;

const Between = z
  .strictObject({ from: LocalTime.optional(), until: LocalTime.optional() })
  .refine(hasBound, BOUND_MISSING);
const Weekly = z.strictObject({
  days: z.array(z.int().min(1).max(7)).min(1).max(7),
  from: TimeOfDay,
  until: TimeOfDay,
});
const Yearly = z
  .strictObject({ from: YearDay, until: YearDay })
  .refine(({ from, until }) => from !== until, 'two different days');
const Around = z
  .strictObject({ date: Name, from: Duration.optional(), until: Duration.optional() })
  .refine(hasBound, BOUND_MISSING);

/**
 * One condition: a fact, an operator, and the value asked for. What a fact's operators mean is in decide/operators.ts,
 * whose table has exactly these rows.
 */
export const Leaf = z
  .discriminatedUnion('fact', [
    leaf('product', ['every'], z.literal(true)),
    leaf('product.id', ['in', 'notIn'], Names),
    leaf('product.tags', ['hasAny', 'hasAll', 'hasNone'], Names),
    leaf('product.categories', ['within', 'notWithin', 'exactly'], Names),
    leaf('product.brand', ['in', 'notIn'], Names),
    leaf('product.kind', ['in', 'notIn'], Names),
    leaf('product.seller', ['in', 'notIn'], Names),
    z.discriminatedUnion('op', [
      leaf('product.path', ['equals', 'startsWith'], Path),
      leaf('product.path', ['contains'], PathPart),
    ]),
    z.discriminatedUnion('op', [
      leaf('page.path', ['equals', 'startsWith'], Path),
      leaf('page.path', ['contains'], PathPart),
    ]),
    leaf('product.attribute', ['in', 'notIn'], Named),
    leaf('variant.id', ['in', 'notIn'], Names),
    leaf('variant.option', ['in', 'notIn'], Named),
    z.discriminatedUnion('op', [
      leaf('variant.price', ['lt', 'lte', 'gt', 'gte'], z.int()),
      leaf('variant.price', ['between'], Range),
    ]),
    leaf('stock.status', ['in', 'notIn'], listOf(STOCK_STATUSES)),
    compared('stock.quantity'),
    compared('stock.productTotal'),
    compared('preorder.reserved'),
    compared('waitlist.length'),
    leaf('visitor.signedIn', ['is'], z.boolean()),
    leaf('visitor.roles', ['hasAny', 'hasAll', 'hasNone'], Names),
    leaf('visitor.customer', ['in', 'notIn'], Names),
    leaf('visitor.invited', ['is'], z.boolean()),
    leaf('visitor.locale', ['in'], z.array(Locale).min(1).max(100)),
    z.discriminatedUnion('op', [
      leaf('moment', ['between'], Between),
      leaf('moment', ['weekly'], Weekly),
      leaf('moment', ['yearly'], Yearly),
      leaf('moment', ['around'], Around),
    ]),
    leaf('surface', ['in'], listOf(SURFACES)),
  ])
  .meta({ id: 'Leaf' });

export type Leaf = z.infer<typeof Leaf>;
export type Fact = Leaf['fact'];
type RowOf<F extends Fact> = Extract<Leaf, { fact: F }>;
export type OpOf<F extends Fact> = RowOf<F>['op'];
export type ValueOf<F extends Fact, O extends string> =
  RowOf<F> extends infer Row
    ? Row extends { op: infer Ops; value: infer Value }
      ? O extends Ops
        ? Value
        : never
      : never
    : never;
