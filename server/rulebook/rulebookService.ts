import { isSellers } from '#core/rulebook/entries.ts';
import { isDeepStrictEqual } from 'node:util';
import type { DraftDetail } from '#core/contract/recordCalls.ts';
import { fullSentence, ruleName } from '#core/rulebook/sentence.ts';
import { unfinished, type Unfinished } from '#core/rulebook/unfinished.ts';
import type { ValidationIssue } from '#core/contract/validation.ts';
import type { Entry, Rulebook } from '#core/rulebook/rulebook.ts';
import type { Openings } from './openings.ts';
import type { Services } from '../services/services.ts';
import { invalid, notFound, ProblemError } from '../http/errors.ts';
import { refuseFailing } from '../spotChecks/spotCheckService.ts';
import { deleteOpening, insertOpening, openingById, updateOpening, type OpeningRow } from '../rules/openingQueries.ts';
import { record, recordGradually, unrecorded } from '../db/record.ts';
import {
  editionByNumber,
  insertEdition,
  lockDraft,
  newestEdition,
  writeDraft,
  type EditionRow,
} from '../rules/rulebookQueries.ts';

/** Services that rulebooks need besides the common ones. */
export interface RulebookServices {
  readonly openings: Openings;
}
type Needs = Services & RulebookServices;

export const etagOf = (revision: number) => `"draft-${revision}"`;

/** The revision that an If-Match header names; null for any. Something that never was an ETag of ours is -1. */
export function revisionOf(ifMatch: string): number | null {
  if (ifMatch.trim() === '*') return null;
  const match = /^"draft-(\d{1,15})"$/.exec(ifMatch.trim());
  return match ? Number(match[1]) : -1;
}

/** @returns the problem of a draft that somebody else changed */
export const staleDraft = () =>
  new ProblemError(
    'draft-changed',
    'Somebody else changed the draft since you read it, so nothing was saved. Read it again and bring your change to it.',
  );

export interface Acting {
  readonly who: string;
  readonly at: Date;
}

/** Replaces the draft. @returns its new revision */
export async function saveDraft(
  { db }: Needs,
  document: Rulebook,
  ifMatch: string,
  { who, at }: Acting,
): Promise<number> {
  return db.transaction(async (client) => {
    const before = await lockDraft(client);
    const revision = await writeDraft(client, { document, at, by: who, revision: revisionOf(ifMatch) });
    if (revision === null) throw staleDraft();
    const touched = touchedRules(before.document, document);
    if (Object.keys(touched.before).length === 0) unrecorded();
    else
      await recordGradually<DraftDetail>(client, { at, who, did: 'put /api/rulebook' }, (earlier) => ({
        rules: [...new Set([...(earlier?.rules ?? []), ...touched.rules])],
        // Rules as they were when the session began.
        before: { ...touched.before, ...earlier?.before },
      }));
    return revision;
  });
}

/** The rules that differ between two drafts, by name, and as they were before. */
function touchedRules(before: Rulebook, after: Rulebook): DraftDetail {
  const was = new Map(before.rules.map((rule) => [rule.id, rule]));
  const is = new Map(after.rules.map((rule) => [rule.id, rule]));
  const ids = [...new Set([...was.keys(), ...is.keys()])].filter((id) => !isDeepStrictEqual(was.get(id), is.get(id)));
  return {
    rules: ids.map((id) => named(is.get(id) ?? was.get(id), id)),
    before: Object.fromEntries(ids.map((id) => [id, was.get(id) ?? null])),
  };
}

const named = (entry: Entry | undefined, id: string) =>
  entry && isSellers(entry) ? ruleName(entry) : (entry?.name ?? id);

/** Makes the draft the next edition, in one transaction with its record and its announcement. */
export async function publish(
  { db, live }: Needs,
  note: string | null,
  ifMatch: string | null,
  { who, at }: Acting,
): Promise<EditionRow> {
  const edition = await db.transaction(async (client) => {
    const draft = await lockDraft(client);
    const wanted = ifMatch === null ? null : revisionOf(ifMatch);
    if (wanted !== null && wanted !== draft.revision) throw staleDraft();
    refuseUnfinished(draft.document);
    const { rulebook, sellers } = live.current();
    await refuseFailing(client, draft.document, rulebook.shop, at.getTime(), sellers);
    const published = await insertEdition(client, {
      document: draft.document,
      note,
      publishedAt: at,
      publishedBy: who,
      restoredFrom: null,
    });
    await record(client, at, who, 'published', { edition: published.number });
    await live.announce(client);
    return published;
  });
  await live.refresh();
  return edition;
}

/**
 * Makes an earlier edition's rules live again, as a new edition; or puts them into the draft. When they go live and the
 * draft held nothing unpublished, it follows, so that the two do not differ by what was just taken back.
 */
export async function restore(
  { db, live }: Needs,
  number: number,
  to: 'live' | 'draft',
  { who, at }: Acting,
): Promise<EditionRow> {
  const edition = await db.transaction(async (client) => {
    const draft = await lockDraft(client);
    const earlier = await editionByNumber(client, number);
    if (!earlier) throw notFound(`edition ${number}`);
    const newest = await newestEdition(client);
    const draftIsLive = JSON.stringify(newest?.document) === JSON.stringify(draft.document);
    if (to === 'draft' || draftIsLive) {
      await writeDraft(client, { document: earlier.document, at, by: who, revision: null });
    }
    await record(client, at, who, 'restored', { edition: number, to });
    if (to === 'draft') return earlier;
    const published = await insertEdition(client, {
      document: earlier.document,
      note: `Restored edition ${number}`,
      publishedAt: at,
      publishedBy: who,
      restoredFrom: number,
    });
    await live.announce(client);
    return published;
  });
  await live.refresh();
  return edition;
}

/** Settings of an opening: its time and note, and whether it takes the draft's rules. */
interface Wanted {
  readonly opensAt: Date;
  readonly note: string | null;
  /** The opening that is changed, and whether it keeps its rules; a new one has the draft's. */
  readonly changes: { readonly id: number; readonly keepsRules: boolean } | null;
}

/** Schedules the draft as the next edition, or changes such an opening. */
export async function setOpening(
  { db, live, openings }: Needs,
  { opensAt, note, changes }: Wanted,
  ifMatch: string | null,
  { who, at }: Acting,
): Promise<OpeningRow> {
  if (opensAt <= at) {
    const fault = { pointer: '/at', found: opensAt.toISOString(), allowed: 'a time to come; to open now, publish' };
    throw invalid('The opening', [fault]);
  }
  const set = await db.transaction(async (client) => {
    const draft = await lockDraft(client);
    const wanted = ifMatch === null ? null : revisionOf(ifMatch);
    if (wanted !== null && wanted !== draft.revision) throw staleDraft();
    const before = changes && (await openingById(client, changes.id));
    if (changes && !before) throw notFound(`opening ${changes.id}`);
    const document = changes?.keepsRules && before ? before.document : draft.document;
    refuseUnfinished(document);
    const { rulebook, sellers } = live.current();
    await refuseFailing(client, document, rulebook.shop, opensAt.getTime(), sellers);
    const over = (await newestEdition(client))?.number ?? 0;
    const opening = { document, note, opensAt, over, setAt: at, setBy: who };
    const kept = changes
      ? await updateOpening(client, { id: changes.id, ...opening })
      : await insertOpening(client, opening);
    if (!kept) throw notFound(`opening ${changes?.id ?? ''}`);
    await record(client, at, who, 'scheduled an opening', { opening: kept.id, at: opensAt.toISOString() });
    // Other copies of the server wait for it as well.
    await live.announce(client);
    return kept;
  });
  await openings.arm();
  return set;
}

/** Calls an opening off. @throws {ProblemError} 404 */
export async function callOff({ db }: Needs, id: number, { who, at }: Acting): Promise<void> {
  await db.transaction(async (client) => {
    if (!(await deleteOpening(client, id))) throw notFound(`opening ${id}`);
    await record(client, at, who, 'cancelled an opening', { opening: id });
  });
}

const LACKS: Record<Unfinished, Omit<ValidationIssue, 'found' | 'pointer'> & { at: string }> = {
  noGoods: { at: '/when', allowed: 'goods: a tag, a category, a product, a stock level, or everything on purpose' },
  emptyGroup: { at: '/when', allowed: 'at least one condition in each group' },
  emptyThen: { at: '/then', allowed: 'at least one aspect to decide' },
};

/** @throws {ProblemError} 422 naming what unfinished rules lack */
export function refuseUnfinished({ rules }: Rulebook): void {
  const faults = rules.flatMap((rule, index) =>
    isSellers(rule)
      ? []
      : unfinished(rule).map((lack) => ({
          pointer: `/rules/${index}${LACKS[lack].at}`,
          found: `an unfinished rule: ${fullSentence(rule)}`,
          allowed: LACKS[lack].allowed,
        })),
  );
  if (faults.length > 0) throw invalid('The draft', faults);
}
