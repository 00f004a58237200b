import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import type { postImpact } from '#core/contract/rehearsalCalls.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

const PAGE = 40;
const MOST_IN_A_FILE = 1000;

export interface ImpactAsked {
  readonly surface: 'product' | 'listing';
  /** Days ahead whose coming changes are looked at as well; undefined for the moment alone. */
  readonly days: number | undefined;
  /** Undefined for now. */
  readonly at: string | undefined;
  readonly group: string | undefined;
  readonly search: string | undefined;
}

const ask = async (asked: ImpactAsked, skip: number, limit: number, signal?: AbortSignal) => {
  const given = Object.fromEntries(Object.entries(asked).filter(([, value]) => value !== undefined));
  return (
    await send<typeof postImpact>('post', '/api/rehearsal/impact', {
      body: { ...given, skip, limit },
      ...(signal ? { signal } : {}),
    })
  ).body;
};

/** What the draft changes against what is live; of the draft as it is here, which is saved before it is asked of. */
export function useImpact(rulebook: Rulebook, flush: () => Promise<unknown>, asked: ImpactAsked) {
  const pages = useInfiniteQuery({
    queryKey: keys.impact({ ...asked, rulebook }),
    initialPageParam: 0,
    queryFn: async ({ pageParam, signal }) => {
      await flush();
      return ask(asked, pageParam, asked.group === undefined ? 0 : PAGE, signal);
    },
    getNextPageParam: (last, all) =>
      last.more ? all.reduce((sum, { changes }) => sum + changes.length, 0) : undefined,
    placeholderData: keepPreviousData,
  });
  return {
    impact: pages.data?.pages[0],
    changes: pages.data?.pages.flatMap(({ changes }) => changes) ?? [],
    error: pages.error,
    isLooking: pages.isFetching,
    retry: () => void pages.refetch(),
    more: pages.hasNextPage && asked.group !== undefined ? () => void pages.fetchNextPage() : null,
  };
}

const cell = (text: string) => `"${text.replaceAll('"', '""')}"`;

/** Every change as CSV (RFC 4180), some at a time. */
export async function impactAsCsv(asked: ImpactAsked): Promise<string> {
  const lines = [['product', 'variant', 'title', 'audience', 'changes', 'before', 'after'].join()];
  for (let skip = 0; ; skip += MOST_IN_A_FILE) {
    const { changes, more } = await ask(asked, skip, MOST_IN_A_FILE);
    for (const { product, variant, title, audience, aspects, before, after } of changes) {
      const said = [before, after].map(({ control: { kind, label } }) => (label === null ? kind : `${kind}: ${label}`));
      lines.push([product, variant ?? '', title, audience, aspects.join(' '), ...said].map(cell).join());
    }
    if (!more) return `${lines.join('\r\n')}\r\n`;
  }
}
