import { useQuery } from '@tanstack/react-query';
import type { getShop } from '#core/contract/shopCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

/** The shop alone; undefined until it is known. What goes wrong is shown in the screen's place. */
export const useShop = (): ShopFacts | undefined =>
  useQuery({
    queryKey: keys.shop,
    queryFn: async () => (await send<typeof getShop>('get', '/api/shop')).body,
    throwOnError: true,
  }).data;
