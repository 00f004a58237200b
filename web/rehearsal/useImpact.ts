import { useInfiniteQuery } from '@tanstack/react-query';
import type { Source } from '#core/contract/rehearsalCalls.ts';
import type { Surface } from '#core/model/subject.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { sendPatiently } from '../api/client.ts';
import { revisionOf } from '../draft/revisionOf.ts';
import { keys } from '../api/keys.ts';
import { isGivenUp, useProgress } from '../shared/useProgress.ts';

const PAGE = 40;
const MOST_IN_A_FILE = 1000;

export interface ImpactQuery {
  readonly surface: Surface;
  /** Days ahead whose coming changes are looked at as well; undefined for the moment alone. */
  readonly days: number | undefined;
  /** Undefined for now. */
  readonly at: string | undefined;
  readonly group: string | undefined;
  readonly search: string | undefined;
}

/** Rules that are compared. */
export interface Compared {
  readonly from: Source;
  readonly to: Source;
  /** Identifies the rules, whose answers are cached; 0 for editions, which never change. */
  readonly revision: number;
  /** Saves the draft first, if needed. */
  readonly flush?: () => Promise<unknown>;
}

/** The local draft against the live edition. */
export const draftAgainstLive = (rulebook: Rulebook, flush: () => Promise<unknown>): Compared => ({
  from: 'live',
  to: 'draft',
  revision: revisionOf(rulebook),
  flush,
});

const ask = (
  { from, to }: Compared,
  query: ImpactQuery,
  {
    skip,
    limit,
    signal,
    report,
  }: { skip: number; limit: number; signal?: AbortSignal; report: (done: number) => void },
) => {
  const given = Object.fromEntries(Object.entries({ from, to, ...query }).filter(([, value]) => value !== undefined));
  const sending = { body: { ...given, skip, limit }, ...(signal ? { signal } : {}) };
  return sendPatiently('POST /api/rehearsal/impact', sending, report);
};

/** Impact of rules against others; a local draft is saved first. */
export function useImpact(compared: Compared, impactQuery: ImpactQuery) {
  const { flush: _flush, ...what } = compared;
  const queryKey = keys.impact({ ...impactQuery, ...what });
  const progress = useProgress(queryKey);
  const pages = useInfiniteQuery({
    queryKey,
    initialPageParam: { skip: 0, at: impactQuery.at },
    queryFn: async ({ pageParam: { skip, at }, signal }) => {
      await compared.flush?.();
      const limit = impactQuery.group === undefined ? 0 : PAGE;
      return ask(compared, { ...impactQuery, at }, { skip, limit, signal, report: progress.report });
    },
    // Later pages are of the same moment, even if that was now.
    getNextPageParam: ({ more, at }, all) =>
      more ? { skip: all.reduce((sum, { changes }) => sum + changes.length, 0), at } : undefined,
    // Results of another surface count other things.
    placeholderData: (before, query) => (query?.queryKey[1].surface === impactQuery.surface ? before : undefined),
  });
  return {
    data: pages.data?.pages[0],
    changes: pages.data?.pages.flatMap(({ changes }) => changes) ?? [],
    error: pages.error,
    isFetching: pages.isFetching,
    isGivenUp: isGivenUp(pages),
    refetch: pages.refetch,
    progress,
    more: pages.hasNextPage && impactQuery.group !== undefined ? () => void pages.fetchNextPage() : null,
  };
}

const cell = (text: string) => `"${text.replaceAll('"', '""')}"`;

/** Every change as CSV (RFC 4180), some at a time. */
export async function impactAsCsv(compared: Compared, query: ImpactQuery): Promise<string> {
  const lines = [['product', 'variant', 'title', 'audience', 'changes', 'before', 'after'].join()];
  let { at } = query;
  for (let skip = 0; ; skip += MOST_IN_A_FILE) {
    const reply = await ask(compared, { ...query, at }, { skip, limit: MOST_IN_A_FILE, report: () => undefined });
    const { changes, more } = reply;
    at = reply.at;
    for (const { product, variant, title, audience, aspects, before, after } of changes) {
      const cells = [before, after].map(({ control: { kind, label } }) =>
        label === null ? kind : `${kind}: ${label}`,
      );
      lines.push([product, variant ?? '', title, audience, aspects.join(' '), ...cells].map(cell).join());
    }
    if (!more) return `${lines.join('\r\n')}\r\n`;
  }
}
