import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { OwnChanges } from '#core/contract/ownFactsCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

/** Fetches a product by id; null if it does not exist. */
export const useProduct = (id: string) =>
  useQuery({
    queryKey: keys.products(`id=${id}`),
    queryFn: async () => (await send('GET /api/products', { query: { id } })).body.products[0] ?? null,
  });

/** A change of a variant's stock. */
export interface StockChange {
  readonly variantId: string;
  readonly quantity: number;
  readonly tracked: boolean;
  readonly sellPastZero: boolean;
}

export function useProductActs(id: string) {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries();
  return {
    saveStock: useMutation({
      mutationFn: async (body: readonly StockChange[]) => {
        await send('PUT /api/stock', { body });
      },
      onSuccess,
    }),
    saveFacts: useMutation({
      mutationFn: async (changes: OwnChanges) => {
        await send('POST /api/products/fact-changes', { body: { goods: { ids: [id] }, changes } });
      },
      onSuccess,
    }),
  };
}
