import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { listPeople, listProducts } from '#core/contract/shopCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { wordsIn } from '#core/texts/locale.ts';
import type { Values } from '#core/texts/messages.ts';
import type {
  deleteTemplate,
  listMessages,
  listTemplates,
  MessageTemplate,
  putTemplate,
  sendMessageAgain,
  sendTest,
} from '#core/contract/messageCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { usePages } from '../shared/pages.tsx';

const PAGE = 60;

export const useMessages = (query: string) =>
  usePages(keys.messagePages(query), async (after) => {
    const { body } = await send<typeof listMessages>('get', `/api/messages?limit=${PAGE}&${query}${after}`);
    return { ...body, items: body.messages, total: body.dead + body.held };
  });

export const useSendAgain = () => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (id: string) => {
      await send<typeof sendMessageAgain>('post', `/api/messages/${id}/again`);
    },
    onSettled: () => client.invalidateQueries({ queryKey: keys.messages }),
  });
};

export const useTemplates = () =>
  useQuery({
    queryKey: keys.templates,
    queryFn: async () => (await send<typeof listTemplates>('get', '/api/templates')).body,
  });

export type Words = Pick<MessageTemplate, 'event' | 'locale' | 'subject' | 'body'>;

function useTemplateChange<T>(mutationFn: (given: T) => Promise<void>) {
  const client = useQueryClient();
  return useMutation({ mutationFn, onSuccess: () => client.invalidateQueries({ queryKey: keys.templates }) });
}

export const useSaveWords = () =>
  useTemplateChange(async (body: Words) => {
    await send<typeof putTemplate>('put', '/api/templates', { body });
  });

export const useOurWords = () =>
  useTemplateChange(async ({ event, locale }: Pick<Words, 'event' | 'locale'>) => {
    await send<typeof deleteTemplate>('delete', `/api/templates/${event}/${locale}`);
  });

export const useSendTest = () =>
  useMutation({
    mutationFn: async (body: Words & { readonly to: string }) => {
      await send<typeof sendTest>('post', '/api/templates/test', { body });
    },
  });

/** A product and a person of the shop's own, to look at words with; made-up ones stand in until they are known. */
export function useExampleValues({ locales }: ShopFacts, locale: string): Values {
  const { data } = useQuery({
    queryKey: keys.example,
    queryFn: async () => {
      const [products, people] = await Promise.all([
        send<typeof listProducts>('get', '/api/products?limit=1'),
        send<typeof listPeople>('get', '/api/people?limit=1'),
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
