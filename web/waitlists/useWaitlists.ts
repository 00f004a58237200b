import { useQuery } from '@tanstack/react-query';
import type { Waitlist } from '#core/contract/waitlistCalls.ts';
import { send, type QueryOf } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { usePages } from '../shared/pages.tsx';
import { useRequestChange } from '../shared/useRequestChange.ts';

const PAGE = 100;
/** People join while the owner looks. */
const AGAIN_MS = 30_000;

export type ListKey = Pick<Waitlist, 'product' | 'variant'>;

type ListsQuery = QueryOf<'GET /api/waitlists'>;

const readLists = async (query: ListsQuery) =>
  (await send('GET /api/waitlists', { query: { limit: PAGE, ...query } })).body;

export const useWaitlists = (query: ListsQuery) =>
  usePages(
    keys.waitlistPages(query),
    async (after) => {
      const body = await readLists({ ...query, after });
      return { ...body, items: body.lists };
    },
    { refetchInterval: AGAIN_MS },
  );

/** The list that an address names, or another of its product, whichever page of all lists it is on. */
export const useNamedList = (product: string | null, variant: string | null) =>
  useQuery({
    queryKey: keys.waitlistPages({ named: product }),
    queryFn: async () => (await readLists({ product: product ?? '' })).lists,
    select: (lists) => lists.find((list) => list.variant === variant) ?? lists[0] ?? null,
    enabled: product !== null,
    refetchInterval: AGAIN_MS,
  });

/** Query fields that identify a list in an address. */
export const listQuery = ({ product, variant }: ListKey) => ({ product, ...(variant === null ? {} : { variant }) });

export const useEntries = (query: QueryOf<'GET /api/waitlists/entries'>) =>
  usePages(keys.waitlistEntries(query), async (after) => {
    const { body } = await send('GET /api/waitlists/entries', { query: { limit: PAGE, ...query, after } });
    return { ...body, items: body.entries };
  });

const useChange = <T, R>(change: (given: T) => Promise<R>) => useRequestChange(keys.waitlists, change);

export const useInvite = () =>
  useChange(
    async (
      body: ListKey & {
        readonly hours: number | null;
        readonly units: number;
        readonly next?: number;
        readonly entries?: string[];
      },
    ) => (await send('POST /api/waitlists/invitations', { body })).body.invited,
  );

/** Changes one person's entry, or several alike. */
export const usePatchEntries = () =>
  useChange(
    async ({ ids, ...body }: { ids: readonly string[]; note?: string | null; state?: 'removed' | 'waiting' }) => {
      for (const id of ids) await send('PATCH /api/waitlists/entries/{id}', { params: { id }, body });
    },
  );

export const useSettings = () =>
  useChange(async (body: ListKey & { readonly inviteForHours: number | null }) => {
    await send('PUT /api/waitlists/settings', { body });
  });
