import { useQuery } from '@tanstack/react-query';
import type { PreorderState } from '#core/requests/preorder.ts';
import { send, type QueryOf } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { usePages } from '../shared/pages.tsx';
import { useRequestChange } from '../shared/useRequestChange.ts';

const PAGE = 100;
const AGAIN_MS = 30_000;

type GoodsQuery = QueryOf<'GET /api/preorders/goods'>;

const readGoods = async (query: GoodsQuery) =>
  (await send('GET /api/preorders/goods', { query: { limit: PAGE, ...query } })).body;

export const usePreorderGoods = (query: GoodsQuery) =>
  usePages(
    keys.preorderGoods(query),
    async (after) => {
      const body = await readGoods({ ...query, after });
      return { ...body, items: body.goods };
    },
    { refetchInterval: AGAIN_MS },
  );

/** The first variant that an address names, whichever page of all variants it is on. */
export const useNamedGoods = (query: GoodsQuery) =>
  useQuery({
    queryKey: keys.preorderGoods({ named: query }),
    queryFn: async () => (await readGoods(query)).goods[0] ?? null,
    enabled: Object.keys(query).length > 0,
    refetchInterval: AGAIN_MS,
  });

export const usePreorders = (query: QueryOf<'GET /api/preorders'>) =>
  usePages(keys.preorderPages(query), async (after) => {
    const { body } = await send('GET /api/preorders', { query: { limit: PAGE, ...query, after } });
    return { ...body, items: body.preorders };
  });

const useChange = <T, R>(change: (given: T) => Promise<R>) => useRequestChange(keys.preorders, change);

interface Allocation {
  readonly variant: string;
  readonly units: number;
  readonly first: readonly string[];
}

const allocate = async (request: Allocation & { readonly preview: boolean }) =>
  (await send('POST /api/preorders/allocation', { body: request })).body;

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
      (await send('POST /api/preorders/states', { body })).body.moved,
  );

export const useShipDate = () =>
  useChange(
    async (body: { variant: string; from: string | null; until: string | null; words: string }) =>
      (await send('PUT /api/preorders/dates', { body })).body.notified,
  );
