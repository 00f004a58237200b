import {
  keepPreviousData,
  useMutation,
  useQueries,
  useQuery,
  useQueryClient,
  type QueryKey,
} from '@tanstack/react-query';
import type { PreviewClaims } from '#core/contract/rehearsalCalls.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import { send, sendPatiently } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { revisionOf } from '../draft/revisionOf.ts';
import { useDraft } from '../draft/useDraft.ts';
import { isGivenUp, useProgress, type InProgress } from '../shared/useProgress.ts';

type Ask<T> = (signal: AbortSignal, report: InProgress['report']) => Promise<T>;

/** Asks something that may take long. */
function useLong<T>(queryKey: QueryKey, isReady: boolean, ask: Ask<T>) {
  const progress = useProgress(queryKey);
  const query = useQuery({
    queryKey,
    enabled: isReady,
    queryFn: ({ signal }) => ask(signal, progress.report),
    placeholderData: keepPreviousData,
  });
  const { data, error, isFetching, refetch } = query;
  return { data, error, isFetching, isGivenUp: isGivenUp(query), refetch, progress };
}

/** Asks something of the draft as it is here, which is saved before it is asked of. */
function useOfDraft<T>(name: readonly unknown[], ask: Ask<T>) {
  const { rulebook, flush } = useDraft();
  return useLong(
    keys.ofDraft(name, rulebook && revisionOf(rulebook)),
    rulebook !== undefined,
    async (signal, report) => {
      await flush();
      return ask(signal, report);
    },
  );
}

export const useFindings = () =>
  useOfDraft(['findings'], (signal, report) =>
    sendPatiently('GET /api/rehearsal/findings', { query: { of: 'draft' }, signal }, report),
  );

export const useSpotChecks = () =>
  useOfDraft(
    ['spot-checks'],
    async (signal) => (await send('GET /api/spot-checks', { query: { of: 'draft' }, signal })).body,
  );

/** Few variants that show every distinct outcome of the draft, at an instant or now. */
export const useRows = (at: string | undefined) =>
  useOfDraft(['rows', at], async (signal, report) => {
    const sending = { body: at ? { at } : {}, signal };
    return (await sendPatiently('POST /api/rehearsal/rows', sending, report)).rows;
  });

/** The same for the live edition. */
export const useLiveRows = (at: string | undefined) =>
  useLong(keys.liveRows(at), true, async (signal, report) => {
    const sending = {
      body: { source: 'live' as const, surfaces: ['product' as const], ...(at ? { at } : {}) },
      signal,
    };
    return (await sendPatiently('POST /api/rehearsal/rows', sending, report)).rows;
  });

/** Scheduled changes of the live edition or the draft. */
export function useCalendar(of: 'live' | 'draft') {
  const { rulebook, flush } = useDraft();
  const queryKey = keys.calendar(of, of === 'draft' && rulebook ? revisionOf(rulebook) : undefined);
  return useLong(queryKey, rulebook !== undefined, async (signal, report) => {
    if (of === 'draft') await flush();
    return sendPatiently('GET /api/rehearsal/calendar', { query: { of }, signal }, report);
  });
}

export const useCalendarAddress = () =>
  useQuery({
    queryKey: keys.calendarAddress,
    queryFn: async () => (await send('GET /api/calendar-address')).body.address,
  });

export function useNewCalendarAddress() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async () => (await send('POST /api/calendar-address')).body.address,
    onSuccess: (address) => client.setQueryData(keys.calendarAddress, address),
  });
}

/** Opens the shop as it will look, in a tab of its own. */
export function usePreview() {
  const { flush } = useDraft();
  return useMutation({
    mutationFn: async ({ page, ...claims }: PreviewClaims & { readonly page: string }) => {
      // Opened at the press, before anything is waited for: later, browsers take it for unwanted.
      const tab = window.open('about:blank');
      await flush();
      const { address } = (await send('POST /api/previews', { body: { ...claims, page } })).body;
      if (tab) tab.location.href = address;
      return address;
    },
  });
}

/** Products by id: known ones, and others fetched one by one. */
export function useProducts(ids: readonly string[], known: readonly Product[]): readonly Product[] {
  const missing = ids.filter((id) => !known.some((product) => product.id === id));
  const found = useQueries({
    queries: missing.map((id) => ({
      queryKey: keys.products(`id=${id}`),
      queryFn: async () => {
        const { products } = (await send('GET /api/products', { query: { id } })).body;
        return products[0] ?? null;
      },
    })),
  });
  const all = [...known, ...found.flatMap(({ data }) => data ?? [])];
  return ids.flatMap((id) => all.find((product) => product.id === id) ?? []);
}
