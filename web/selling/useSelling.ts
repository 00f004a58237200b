import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useDraft } from '../draft/useDraft.ts';

/** The user's seller, and the state of their rules, which the owner may approve at any time. */
export const useSelling = () =>
  useQuery({
    queryKey: keys.selling,
    queryFn: async () => (await send('GET /api/seller')).body,
    refetchInterval: 30_000,
  });

function useAct<Answer>(act: () => Promise<Answer>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: keys.selling }),
        client.invalidateQueries({ queryKey: keys.live }),
      ]),
  });
}

/** Publishes the draft, or submits it to the owner. */
export function usePublishSelling() {
  const { flush } = useDraft();
  return useAct(async () => {
    await flush();
    return send('POST /api/seller/editions');
  });
}

export const useTakeBack = () => useAct(() => send('DELETE /api/seller/asked'));

/** Decisions for products under the current draft and the live edition. */
export function useSellerProof(products: readonly string[], at: string | undefined, rulebook: Rulebook) {
  const { flush } = useDraft();
  return useQuery({
    queryKey: keys.sellerProof({ products, at, rulebook }),
    queryFn: async () => {
      await flush();
      const body = { products, ...(at === undefined ? {} : { at }) };
      return (await send('POST /api/seller/proof', { body })).body.rows;
    },
    enabled: products.length > 0,
    placeholderData: keepPreviousData,
  });
}
