import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ShopFacts } from '#core/model/subject.ts';
import { wordsIn } from '#core/texts/locale.ts';
import type { Values } from '#core/texts/messages.ts';
import type { MessageTemplate } from '#core/contract/messageCalls.ts';
import { send, type QueryOf } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { usePages } from '../shared/pages.tsx';

const PAGE = 60;

export const useMessages = (query: QueryOf<'GET /api/messages'>) =>
  usePages(keys.messagePages(query), async (after) => {
    const { body } = await send('GET /api/messages', { query: { limit: PAGE, ...query, after } });
    return { ...body, items: body.messages, total: body.dead + body.held };
  });

export const useSendAgain = () => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (id: string) => {
      await send('POST /api/messages/{id}/again', { params: { id } });
    },
    onSettled: () => client.invalidateQueries({ queryKey: keys.messages }),
  });
};

export const useTemplates = () =>
  useQuery({
    queryKey: keys.templates,
    queryFn: async () => (await send('GET /api/templates')).body,
  });

export type Words = Pick<MessageTemplate, 'event' | 'locale' | 'subject' | 'body'>;

function useTemplateChange<T>(mutationFn: (given: T) => Promise<void>) {
  const client = useQueryClient();
  return useMutation({ mutationFn, onSuccess: () => client.invalidateQueries({ queryKey: keys.templates }) });
}

export const useSaveWords = () =>
  useTemplateChange(async (body: Words) => {
    await send('PUT /api/templates', { body });
  });

export const useOurWords = () =>
  useTemplateChange(async ({ event, locale }: Pick<Words, 'event' | 'locale'>) => {
    await send('DELETE /api/templates/{event}/{locale}', { params: { event, locale } });
  });

export const useSendTest = () =>
  useMutation({
    mutationFn: async (body: Words & { readonly to: string }) => {
      await send('POST /api/templates/test', { body });
    },
  });

/** A product and a person of the shop's own, to look at words with; made-up ones stand in until they are known. */
export function useExampleValues({ locales }: ShopFacts, locale: string): Values {
  const { data } = useQuery({
    queryKey: keys.example,
    queryFn: async () => {
      const [products, people] = await Promise.all([
        send('GET /api/products', { query: { limit: 1 } }),
        send('GET /api/people', { query: { limit: 1 } }),
      ]);
      return { product: products.body.products[0], person: people.body.people[0] };
    },
  });
  const name = data?.person?.name;
  return {
    ...(data?.product && { product: wordsIn(data.product.title, locale, locales) }),
    ...(name && { name, who: name }),
  };
}
