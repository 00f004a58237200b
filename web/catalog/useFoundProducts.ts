import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { z } from 'zod';
import {
  PRODUCT_ORDERS,
  type CatalogView,
  type findProducts,
  type GoodsFilter,
  type ProductOrder,
} from '#core/contract/findCalls.ts';
import { send, sendPatiently } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useDraft } from '../draft/useDraft.ts';
import { revisionOf } from '../draft/revisionOf.ts';
import { isGivenUp, useProgress } from '../shared/useProgress.ts';

export type FoundProducts = z.infer<(typeof findProducts)['replies'][200]>;

export interface Asked {
  readonly filter: GoodsFilter;
  readonly sort: ProductOrder;
  readonly descending: boolean;
  readonly page: number;
  readonly size: number;
}

const PAGE = 50;
/** Greatest age of listed products, in ms; answers may be slightly older. */
const JUST_NOW_MS = 10_000;
const isJustNow = ({ state }: { readonly state: { readonly submittedAt: number } }) =>
  Date.now() - state.submittedAt < JUST_NOW_MS;

/** Reads page and sort order from the address: `price`, or `-price` for descending. */
export function queryIn(search: URLSearchParams): Omit<Asked, 'filter'> {
  const [, minus, name] = /^(-?)(.*)$/.exec(search.get('sort') ?? '') ?? [];
  const sort = PRODUCT_ORDERS.find((order) => order === name);
  const page = Number(search.get('page') ?? 1);
  return {
    sort: sort ?? 'title',
    descending: sort !== undefined && minus === '-',
    page: Number.isInteger(page) && page > 0 ? page - 1 : 0,
    size: PAGE,
  };
}

/** A page of matching products; the previous one stays until the next has loaded. */
export function useFoundProducts({ filter, sort, descending, page, size }: Asked) {
  const { rulebook, flush } = useDraft();
  const client = useQueryClient();
  const isOfRules = filter.decidedBy !== undefined || filter.shown !== undefined;
  const body = { ...filter, sort, descending, skip: page * size, limit: size };
  const queryKey = keys.found(isOfRules && rulebook ? { ...body, revision: revisionOf(rulebook) } : body);
  const progress = useProgress(queryKey);
  const query = useQuery({
    queryKey,
    queryFn: async ({ signal }) => {
      // Rules are evaluated from the saved draft.
      if (isOfRules) await flush();
      // Shows one's own changes at once.
      const settled = client.getMutationCache().getAll().some(isJustNow);
      return sendPatiently('POST /api/products/find', { body: { ...body, settled }, signal }, progress.report);
    },
    placeholderData: keepPreviousData,
  });
  return { ...query, isGivenUp: isGivenUp(query), progress };
}

export function useCatalogViews() {
  const client = useQueryClient();
  const views = useQuery({
    queryKey: keys.catalogViews,
    queryFn: async () => (await send('GET /api/catalog/views')).body,
  });
  const save = useMutation({
    mutationFn: async (next: readonly CatalogView[]) => (await send('PUT /api/catalog/views', { body: next })).body,
    onSuccess: (saved) => {
      client.setQueryData(keys.catalogViews, saved);
    },
  });
  return { views: views.data ?? [], save };
}
