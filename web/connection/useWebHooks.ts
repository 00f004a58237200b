import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { WebHook } from '#core/contract/channelCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

export const useWebHooks = () =>
  useQuery({
    queryKey: keys.webHooks,
    queryFn: async () => (await send('GET /api/web-hooks')).body,
  });

function useChange<Given, Answer>(mutationFn: (given: Given) => Promise<Answer>) {
  const client = useQueryClient();
  return useMutation({ mutationFn, onSettled: () => client.invalidateQueries({ queryKey: keys.webHooks }) });
}

export type HookIs = Pick<WebHook, 'url' | 'events'>;

/** Answers with the secret, which is shown this once. */
export const useAddHook = () =>
  useChange(async (body: HookIs) => (await send('POST /api/web-hooks', { body })).body.secret);

export const useChangeHook = () =>
  useChange(async ({ id, url, events, isOn }: Pick<WebHook, 'id' | 'url' | 'events' | 'isOn'>) => {
    await send('PUT /api/web-hooks/{id}', { params: { id }, body: { url, events, isOn } });
  });

export const useRemoveHook = () =>
  useChange(async (id: string) => {
    await send('DELETE /api/web-hooks/{id}', { params: { id } });
  });

export const useTryHook = () =>
  useChange(async (id: string) => {
    await send('POST /api/web-hooks/{id}/trials', { params: { id } });
  });
