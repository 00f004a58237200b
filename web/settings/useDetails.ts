import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ShopDetails } from '#core/contract/shopDetails.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

export const useDetails = () =>
  useQuery({
    queryKey: keys.shopDetails,
    queryFn: async () => (await send('GET /api/shop/details')).body,
  });

export function useSaveDetails() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (body: ShopDetails) => {
      await send('PUT /api/shop/details', { body });
    },
    onSuccess: () => client.invalidateQueries(),
  });
}
