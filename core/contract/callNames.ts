import type { z } from 'zod';
import type { Call, Reply } from './call.ts';
import type * as asking from './askingCalls.ts';
import type * as attention from './attentionCalls.ts';
import type * as audience from './audienceCalls.ts';
import type * as channel from './channelCalls.ts';
import type * as colleague from './colleagueCalls.ts';
import type * as count from './countCalls.ts';
import type * as demand from './demandCalls.ts';
import type * as feed from './feedCalls.ts';
import type * as find from './findCalls.ts';
import type * as firstSteps from './firstStepsCalls.ts';
import type * as goods from './goodsCalls.ts';
import type * as imports from './importCalls.ts';
import type * as insight from './insightCalls.ts';
import type * as key from './keyCalls.ts';
import type * as message from './messageCalls.ts';
import type * as ownFacts from './ownFactsCalls.ts';
import type * as pageMap from './pageMapCalls.ts';
import type * as people from './peopleCalls.ts';
import type * as preorder from './preorderCalls.ts';
import type * as record from './recordCalls.ts';
import type * as rehearsal from './rehearsalCalls.ts';
import type * as rulebook from './rulebookCalls.ts';
import type * as secondFactor from './secondFactorCalls.ts';
import type * as secret from './secretCalls.ts';
import type * as seller from './sellerCalls.ts';
import type * as selling from './sellingCalls.ts';
import type * as session from './sessionCalls.ts';
import type * as shop from './shopCalls.ts';
import type * as shopDetails from './shopDetails.ts';
import type * as shopSettings from './shopSettingsCalls.ts';
import type * as spotCheck from './spotCheckCalls.ts';
import type * as storefront from './storefront.ts';
import type * as text from './textCalls.ts';
import type * as waitlist from './waitlistCalls.ts';

/*
 * Typed names of calls, such as `GET /api/editions/{number}`. At run time a name is only a method and an address; the rest
 * of the contract follows at compile time, so that clients do not load its schemas.
 */

type Modules = typeof asking &
  typeof attention &
  typeof audience &
  typeof channel &
  typeof colleague &
  typeof count &
  typeof demand &
  typeof feed &
  typeof find &
  typeof firstSteps &
  typeof goods &
  typeof imports &
  typeof insight &
  typeof key &
  typeof message &
  typeof ownFacts &
  typeof pageMap &
  typeof people &
  typeof preorder &
  typeof record &
  typeof rehearsal &
  typeof rulebook &
  typeof secondFactor &
  typeof secret &
  typeof seller &
  typeof selling &
  typeof session &
  typeof shop &
  typeof shopDetails &
  typeof shopSettings &
  typeof spotCheck &
  typeof storefront &
  typeof text &
  typeof waitlist;
type Each = Extract<Modules[keyof Modules], Call>;
type NameOf<C extends Call> = `${Uppercase<C['method']>} ${C['path']}`;
type ByName = { readonly [C in Each as NameOf<C>]: C };

export type CallName = keyof ByName;
export type CallNamed<Name extends CallName> = ByName[Name];

/** Input with read-only lists and objects, which clients may hold. */
type Sent<T> = T extends readonly (infer Item)[]
  ? readonly Sent<Item>[]
  : T extends object
    ? { readonly [Key in keyof T]: Sent<T[Key]> }
    : T;
/** A part of a request, optional if all its fields are, and absent if the call has none. */
type Part<Key extends string, Schema> = Schema extends z.ZodType
  ? object extends z.input<Schema>
    ? Readonly<Partial<Record<Key, Sent<z.input<Schema>>>>>
    : Readonly<Record<Key, Sent<z.input<Schema>>>>
  : Readonly<Partial<Record<Key, never>>>;
type Body<C extends Call> = C extends { readonly upload: true } | { readonly bodyOptional: true }
  ? Partial<Part<'body', C['body']>>
  : Part<'body', C['body']>;

/** Query fields are sent as text, so that text from the address bar may be passed on. */
type Fields<T> = T extends object ? { readonly [Key in keyof T]: T[Key] | string } : T;
type Query<Schema> = Schema extends z.ZodType
  ? object extends z.input<Schema>
    ? { readonly query?: Fields<z.input<Schema>> | undefined }
    : { readonly query: Fields<z.input<Schema>> }
  : { readonly query?: never };

/** The input of a call: the parameters of its address, its query and its body. */
export type InputOf<C extends Call> = Part<'params', C['params']> & Query<C['query']> & Body<C>;
/** The body of a call's answer, of any status that is no problem. */
export type AnswerOf<C extends Call> = Extract<Reply<C>, { body: unknown }>['body'];

/** Arguments of a call: its input and the client's own options. */
export type Sending<Name extends CallName, Options> = InputOf<CallNamed<Name>> & Options;
/** The same as a parameter list, empty if nothing is required. */
export type Arguments<Name extends CallName, Options> =
  object extends Sending<Name, Options> ? [sending?: Sending<Name, Options>] : [sending: Sending<Name, Options>];

/** The method of a call, and its address with parameters and query filled in. */
export function addressOf(
  name: CallName,
  { params, query }: { readonly params?: unknown; readonly query?: unknown },
): { readonly method: string; readonly path: string } {
  const [method = '', template = ''] = name.split(' ');
  const given = new Map(entriesOf(params));
  const path = template.replace(/\{(\w+)\}/g, (_all, key: string) => encodeURIComponent(String(given.get(key))));
  const fields = entriesOf(query)
    .filter(([, value]) => value !== undefined)
    .map(([key, value]) => `${key}=${encodeURIComponent(String(value))}`);
  return { method, path: fields.length === 0 ? path : `${path}?${fields.join('&')}` };
}

const entriesOf = (part: unknown): [string, unknown][] => Object.entries(part ?? {});
