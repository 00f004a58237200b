import { useQuery } from '@tanstack/react-query';
import type { ShopFacts } from '#core/model/subject.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useSeller } from './whose.ts';
import { useGoods } from './useGoods.ts';

/** The shop; undefined until it has loaded. Screens show errors. */
export function useShop(): ShopFacts | undefined {
  const isSeller = useSeller() !== null;
  const goods = useGoods({ isWanted: isSeller, throwOnError: true });
  const { data } = useQuery({
    queryKey: keys.shop,
    queryFn: async () => (await send('GET /api/shop')).body,
    throwOnError: true,
    enabled: !isSeller,
  });
  return isSeller ? goods.data?.shop : data;
}
