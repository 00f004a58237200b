import { useQuery } from '@tanstack/react-query';
import type {
  inviteFromWaitlist,
  listWaitlistEntries,
  listWaitlists,
  patchWaitlistEntry,
  putWaitlistSettings,
  Waitlist,
} from '#core/contract/waitlistCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { usePages } from '../shared/pages.tsx';
import { useRequestChange } from '../shared/useRequestChange.ts';

const PAGE = 100;
/** People join while the owner looks. */
const AGAIN_MS = 30_000;

export type ListKey = Pick<Waitlist, 'product' | 'variant'>;

const readLists = async (query: string) =>
  (await send<typeof listWaitlists>('get', `/api/waitlists?limit=${PAGE}&${query}`)).body;

export const useWaitlists = (query: string) =>
  usePages(
    keys.waitlistPages(query),
    async (after) => {
      const body = await readLists(query + after);
      return { ...body, items: body.lists };
    },
    AGAIN_MS,
  );

/** The list that an address names, or another of its product, whichever page of all lists it is on. */
export const useNamedList = (product: string | null, variant: string | null) => {
  const query = new URLSearchParams({ product: product ?? '' }).toString();
  return useQuery({
    queryKey: keys.waitlistPages(`named ${query}`),
    queryFn: async () => (await readLists(query)).lists,
    select: (lists) => lists.find((list) => list.variant === variant) ?? lists[0] ?? null,
    enabled: product !== null,
    refetchInterval: AGAIN_MS,
  });
};

export const listQuery = ({ product, variant }: ListKey, more: Readonly<Record<string, string>> = {}) =>
  new URLSearchParams({ product, ...(variant === null ? {} : { variant }), ...more }).toString();

export const useEntries = (query: string) =>
  usePages(keys.waitlistEntries(query), async (after) => {
    const { body } = await send<typeof listWaitlistEntries>(
      'get',
      `/api/waitlists/entries?limit=${PAGE}&${query}${after}`,
    );
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
    ) => (await send<typeof inviteFromWaitlist>('post', '/api/waitlists/invitations', { body })).body.invited,
  );

/** Changes one person's entry, or several alike. */
export const usePatchEntries = () =>
  useChange(
    async ({ ids, ...body }: { ids: readonly string[]; note?: string | null; state?: 'removed' | 'waiting' }) => {
      for (const id of ids) await send<typeof patchWaitlistEntry>('patch', `/api/waitlists/entries/${id}`, { body });
    },
  );

export const useSettings = () =>
  useChange(async (body: ListKey & { readonly inviteForHours: number | null }) => {
    await send<typeof putWaitlistSettings>('put', '/api/waitlists/settings', { body });
  });
