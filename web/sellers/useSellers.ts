import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { SellerSettings, SellerTerms } from '#core/contract/sellerCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

/** Sellers of the shop. */
export const useSellers = () =>
  useQuery({
    queryKey: keys.sellers,
    queryFn: async () => (await send('GET /api/sellers')).body,
  });

/** A change to sellers, after which they and proofs with their rules are refetched. */
function useChange<Given, Answer>(change: (given: Given) => Promise<Answer>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: keys.sellers }),
        client.invalidateQueries({ queryKey: keys.goods }),
      ]),
  });
}

export const useSetTerms = () => useChange((body: SellerTerms) => send('PUT /api/sellers/terms', { body }));

export const useAddSeller = () =>
  useChange((name: string) => send('POST /api/sellers', { body: { name, names: [name] } }));

export const useSetSeller = () =>
  useChange(({ id, ...body }: SellerSettings & { readonly id: string }) =>
    send('PUT /api/sellers/{id}', { params: { id }, body }),
  );

export const useRemoveSeller = () => useChange((id: string) => send('DELETE /api/sellers/{id}', { params: { id } }));

export const useMergeSeller = () =>
  useChange(({ id, into }: { readonly id: string; readonly into: string }) =>
    send('POST /api/sellers/{id}/merge', { params: { id }, body: { into } }),
  );

export const useInviteToSeller = () =>
  useChange(
    async ({ id, ...body }: { readonly id: string; readonly name: string; readonly email: string }) =>
      (await send('POST /api/sellers/{id}/people', { params: { id }, body })).body,
  );

export const useLetSellersPersonGo = () =>
  useChange((id: number) => send('DELETE /api/colleagues/{id}', { params: { id } }));

interface Answer {
  readonly id: string;
  readonly publish: boolean;
  readonly askedAt: string;
  readonly reason?: string;
}
export const useAnswerSeller = () =>
  useChange(({ id, ...body }: Answer) => send('POST /api/sellers/{id}/answer', { params: { id }, body }));

export const useRestorePublication = () =>
  useChange(({ id, number, words }: { readonly id: string; readonly number: number; readonly words: string }) =>
    send('POST /api/sellers/{id}/publications/{number}/restore', {
      params: { id, number },
      body: { words },
    }),
  );
