import { useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query';
import type { FactChange, GoodsChoice, OwnChanges } from '#core/contract/ownFactsCalls.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { send, sendPatiently } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { revisionOf } from '../draft/revisionOf.ts';
import { useDraft } from '../draft/useDraft.ts';
import { isGivenUp, useProgress } from '../shared/useProgress.ts';

/** Polling interval of a running change, in ms. */
const EVERY_MS = 700;
/** Goods that are many more are put into rules by a tag. */
export const MOST_BY_ID = 100;

/** Whether it is still being done, or taken back. */
export const isUnderWay = ({ isUndoing, done, products }: FactChange): boolean =>
  isUndoing ? done > 0 : done < products;

/** Refetches products' facts. */
function readAgain(client: QueryClient): void {
  for (const queryKey of [['products'], keys.goods, ['product-facts']]) void client.invalidateQueries({ queryKey });
}

/** Bulk changes, polled while any is running. */
export function useFactChanges() {
  const client = useQueryClient();
  return useQuery({
    queryKey: keys.factChanges,
    queryFn: async () => {
      const before = client.getQueryData<FactChange[]>(keys.factChanges);
      const { body } = await send('GET /api/products/fact-changes');
      // Refreshes all products once a change is done.
      if (before?.some(isUnderWay) && !body.some(isUnderWay)) {
        for (const queryKey of [['products'], keys.goods, ['product-facts']])
          void client.invalidateQueries({ queryKey });
      }
      return body;
    },
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? EVERY_MS : false),
  });
}

export function useFactActs() {
  const client = useQueryClient();
  const onSuccess = () => {
    void client.invalidateQueries({ queryKey: keys.factChanges });
    // Of few products it is done already.
    readAgain(client);
  };
  return {
    change: useMutation({
      mutationFn: async (body: { readonly goods: GoodsChoice; readonly changes: OwnChanges }) =>
        (await send('POST /api/products/fact-changes', { body })).body,
      onSuccess,
    }),
    undo: useMutation({
      mutationFn: async (id: number) =>
        (await send('POST /api/products/fact-changes/{id}/undoing', { params: { id } })).body,
      onSuccess,
    }),
  };
}

/** An intended change: facts at once, or another draft. */
export interface Intended {
  readonly changes?: OwnChanges;
  readonly rulebook?: Rulebook;
}

/** Impact of an intended change; null asks nothing. */
export function useFactImpact(goods: GoodsChoice, intended: Intended | null) {
  const { flush } = useDraft();
  const { rulebook, changes } = intended ?? {};
  const queryKey = keys.factImpact({ goods, changes, revision: rulebook && revisionOf(rulebook) });
  const progress = useProgress(queryKey);
  const query = useQuery({
    queryKey,
    enabled: intended !== null,
    queryFn: async ({ signal }) => {
      if (rulebook) await flush();
      const body = { goods, ...intended };
      return sendPatiently('POST /api/products/fact-changes/impact', { body, signal }, progress.report);
    },
  });
  return { ...query, isGivenUp: isGivenUp(query), progress };
}

/** A product's facts from the shop's file, and those edited here. */
export const useProductFacts = (id: string) =>
  useQuery({
    queryKey: keys.productFacts(id),
    queryFn: async () => (await send('GET /api/products/{id}/facts', { params: { id } })).body,
  });

/** The chosen products as a file, or their ids. */
export async function fileOf(goods: GoodsChoice): Promise<string> {
  return (await send('POST /api/products/export', { body: { goods } })).body;
}
