import { sameName } from './names.ts';
import type { ProductFacts } from './subject.ts';

/** A product's facts edited in Understudy, over those of the shop's file; null removes the file's value. */
export interface OwnFacts {
  readonly addTags: readonly string[];
  readonly removeTags: readonly string[];
  readonly attributes: Readonly<Record<string, string | null>>;
  readonly dates: Readonly<Record<string, string | null>>;
}

/** Changes to the edited facts of products. */
export interface OwnChanges {
  readonly addTags?: readonly string[] | undefined;
  readonly removeTags?: readonly string[] | undefined;
  /** Null removes it, regardless of the file. */
  readonly attributes?: Readonly<Record<string, string | null>> | undefined;
  readonly dates?: Readonly<Record<string, string | null>> | undefined;
  /** Facts whose values come from the file again. */
  readonly asFile?:
    | {
        readonly tags?: readonly string[] | undefined;
        readonly attributes?: readonly string[] | undefined;
        readonly dates?: readonly string[] | undefined;
      }
    | undefined;
}

type OwnedFacts = Pick<ProductFacts, 'tags' | 'attributes' | 'dates'>;

const NOTHING: OwnFacts = { addTags: [], removeTags: [], attributes: {}, dates: {} };

const without = (tags: readonly string[], others: readonly string[]): string[] => {
  const keys = new Set(others.map(sameName));
  return tags.filter((tag) => !keys.has(sameName(tag)));
};
const omit = <Value>(record: Readonly<Record<string, Value>>, names: readonly string[]) =>
  Object.fromEntries(Object.entries(record).filter(([name]) => !names.includes(name)));

/** Applies changes to a product's edited facts; null if none remain. Tags that the file lacks need no removal. */
export function changedOwn(own: OwnFacts | null, fileTags: readonly string[], changes: OwnChanges): OwnFacts | null {
  const { addTags = [], removeTags = [], attributes = {}, dates = {}, asFile = {} } = changes;
  const before = own ?? NOTHING;
  const spoken = [...addTags, ...removeTags, ...(asFile.tags ?? [])];
  const inFile = new Set(fileTags.map(sameName));
  const next = {
    addTags: [...without(before.addTags, spoken), ...without(addTags, removeTags)],
    removeTags: [...without(before.removeTags, spoken), ...removeTags.filter((tag) => inFile.has(sameName(tag)))],
    attributes: { ...omit(before.attributes, asFile.attributes ?? []), ...attributes },
    dates: { ...omit(before.dates, asFile.dates ?? []), ...dates },
  };
  const isNothing = [next.addTags, next.removeTags, Object.keys(next.attributes), Object.keys(next.dates)].every(
    (said) => said.length === 0,
  );
  return isNothing ? null : next;
}

/** Combines a product's facts from the file with those edited in Understudy. */
export function withOwn(file: OwnedFacts, own: OwnFacts | null): OwnedFacts {
  if (!own) return file;
  const kept = without(file.tags, own.removeTags);
  return {
    tags: [...kept, ...without(own.addTags, kept)],
    attributes: together(file.attributes, own.attributes),
    dates: together(file.dates, own.dates),
  };
}

const together = (file: Readonly<Record<string, string>>, own: Readonly<Record<string, string | null>>) =>
  Object.fromEntries(Object.entries({ ...file, ...own }).filter((pair): pair is [string, string] => pair[1] !== null));
