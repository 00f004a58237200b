import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ShopText } from '#core/contract/textCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

export const useTexts = () =>
  useQuery({ queryKey: keys.texts, queryFn: async () => (await send('GET /api/texts')).body });

/** Writes a text in one language; an empty one restores the default. Refetches decisions. */
export function useSaveText(key: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ locale, text }: { locale: string; text: string }) =>
      send('PUT /api/texts/{key}', { params: { key }, body: { [locale]: text } }),
    onSuccess: async (_done, { locale, text }) => {
      client.setQueryData<ShopText[]>(keys.texts, (before) =>
        before?.map((one) => (one.key === key ? { ...one, custom: withText(one.custom, locale, text) } : one)),
      );
      await client.invalidateQueries({ queryKey: keys.shop });
      await client.invalidateQueries({ queryKey: keys.goods });
    },
  });
}

function withText(custom: ShopText['custom'], locale: string, text: string): ShopText['custom'] {
  const { [locale]: _before, ...others } = custom;
  return text.trim() === '' ? others : { ...others, [locale]: text.trim() };
}
