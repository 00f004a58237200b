import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { MessageSettings } from '#core/contract/channelCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

/** Design of messages, for everyone who may read them. */
export const useLook = () =>
  useQuery({
    queryKey: keys.messageLook,
    queryFn: async () => (await send('GET /api/messages/look')).body,
  }).data;

export const useSettings = () =>
  useQuery({
    queryKey: keys.messageSettings,
    queryFn: async () => (await send('GET /api/messages/settings')).body,
    throwOnError: true,
  }).data;

export const useSaveSettings = () => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (body: MessageSettings) => {
      await send('PUT /api/messages/settings', { body });
    },
    onSuccess: (_answer, settings) => {
      client.setQueryData(keys.messageSettings, settings);
      return client.invalidateQueries({ queryKey: keys.messageLook });
    },
  });
};

export const useTryChannel = () =>
  useMutation({
    mutationFn: async (body: { readonly channel: 'chat' } | { readonly channel: 'text'; readonly to: string }) => {
      await send('POST /api/messages/trials', { body });
    },
  });

/** Sends a test letter and returns the mail server's answer. */
export const useTryMail = () =>
  useMutation({
    mutationFn: async (to: string) => (await send('POST /api/messages/letter', { body: { to } })).body,
  });
