import { useQuery } from '@tanstack/react-query';
import type {
  allocatePreorders,
  listPreorderGoods,
  listPreorders,
  movePreorders,
  PreorderState,
  putShipDate,
} from '#core/contract/preorderCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { usePages } from '../shared/pages.tsx';
import { useRequestChange } from '../shared/useRequestChange.ts';

const PAGE = 100;
const AGAIN_MS = 30_000;

const readGoods = async (query: string) =>
  (await send<typeof listPreorderGoods>('get', `/api/preorders/goods?limit=${PAGE}&${query}`)).body;

export const usePreorderGoods = (query: string) =>
  usePages(
    keys.preorderGoods(query),
    async (after) => {
      const body = await readGoods(query + after);
      return { ...body, items: body.goods };
    },
    AGAIN_MS,
  );

/** The first variant that an address names, whichever page of all variants it is on. */
export const useNamedGoods = (query: string) =>
  useQuery({
    queryKey: keys.preorderGoods(`named ${query}`),
    queryFn: async () => (await readGoods(query)).goods[0] ?? null,
    enabled: query !== '',
    refetchInterval: AGAIN_MS,
  });

export const usePreorders = (query: string) =>
  usePages(keys.preorderPages(query), async (after) => {
    const { body } = await send<typeof listPreorders>('get', `/api/preorders?limit=${PAGE}&${query}${after}`);
    return { ...body, items: body.preorders };
  });

const useChange = <T, R>(change: (given: T) => Promise<R>) => useRequestChange(keys.preorders, change);

interface Allocation {
  readonly variant: string;
  readonly units: number;
  readonly first: readonly string[];
}

const allocate = async (request: Allocation & { readonly preview: boolean }) =>
  (await send<typeof allocatePreorders>('post', '/api/preorders/allocation', { body: request })).body;

/** Previews an allocation. */
export const useAllocationPreview = (request: Allocation, isWanted: boolean) =>
  useQuery({
    queryKey: [...keys.preorders, 'preview', request],
    queryFn: () => allocate({ ...request, preview: true }),
    enabled: isWanted,
  });

export const useAllocate = () => useChange((request: Allocation) => allocate({ ...request, preview: false }));

export const useMove = () =>
  useChange(
    async (body: { readonly preorders: readonly string[]; readonly to: PreorderState; readonly notify: boolean }) =>
      (await send<typeof movePreorders>('post', '/api/preorders/states', { body })).body.moved,
  );

export const useShipDate = () =>
  useChange(
    async (body: { variant: string; from: string | null; until: string | null; words: string }) =>
      (await send<typeof putShipDate>('put', '/api/preorders/dates', { body })).body.notified,
  );
