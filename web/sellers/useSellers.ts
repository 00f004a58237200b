import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { deleteColleague } from '#core/contract/colleagueCalls.ts';
import type {
  answerSeller,
  deleteSeller,
  inviteToSeller,
  listSellers,
  mergeSeller,
  postSeller,
  putSeller,
  putSellerTerms,
  SellerSettings,
  SellerTerms,
} from '#core/contract/sellerCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

/** Sellers of the shop. */
export const useSellers = () =>
  useQuery({
    queryKey: keys.sellers,
    queryFn: async () => (await send<typeof listSellers>('get', '/api/sellers')).body,
  });

/** A change to the sellers, after which they, and what is proved with their rules, are read again. */
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

const at = (id: string) => `/api/sellers/${encodeURIComponent(id)}`;

export const useSetTerms = () =>
  useChange((body: SellerTerms) => send<typeof putSellerTerms>('put', '/api/sellers/terms', { body }));

export const useAddSeller = () =>
  useChange((name: string) => send<typeof postSeller>('post', '/api/sellers', { body: { name, names: [name] } }));

export const useSetSeller = () =>
  useChange(({ id, ...body }: SellerSettings & { readonly id: string }) =>
    send<typeof putSeller>('put', at(id), { body }),
  );

export const useRemoveSeller = () => useChange((id: string) => send<typeof deleteSeller>('delete', at(id)));

export const useMergeSeller = () =>
  useChange(({ id, into }: { readonly id: string; readonly into: string }) =>
    send<typeof mergeSeller>('post', `${at(id)}/merge`, { body: { into } }),
  );

export const useInviteToSeller = () =>
  useChange(
    async ({ id, ...body }: { readonly id: string; readonly name: string; readonly email: string }) =>
      (await send<typeof inviteToSeller>('post', `${at(id)}/people`, { body })).body,
  );

export const useLetSellersPersonGo = () =>
  useChange((id: number) => send<typeof deleteColleague>('delete', `/api/colleagues/${id}`));

interface Answer {
  readonly id: string;
  readonly publish: boolean;
  readonly askedAt: string;
  readonly reason?: string;
}
export const useAnswerSeller = () =>
  useChange(({ id, ...body }: Answer) => send<typeof answerSeller>('post', `${at(id)}/answer`, { body }));
