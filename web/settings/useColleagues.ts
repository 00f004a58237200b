import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Colleague } from '#core/contract/colleagueCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

export const useColleagues = () =>
  useQuery({
    queryKey: keys.colleagues,
    queryFn: async () => (await send('GET /api/colleagues')).body,
  });

/** A change to who works here, after which the list is read again. */
function useChange<Given, Answer>(change: (given: Given) => Promise<Answer>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => client.invalidateQueries({ queryKey: keys.colleagues }),
  });
}

type Id = Pick<Colleague, 'id'>;

export const useInvite = () =>
  useChange(
    async (body: Pick<Colleague, 'name' | 'email' | 'role'>) => (await send('POST /api/colleagues', { body })).body,
  );

export const useInviteAgain = () =>
  useChange(async ({ id }: Id) => (await send('POST /api/colleagues/{id}/invitation', { params: { id } })).body);

export const useSetRole = () =>
  useChange(({ id, role }: Pick<Colleague, 'id' | 'role'>) =>
    send('PUT /api/colleagues/{id}', { params: { id }, body: { role } }),
  );

export const useLetGo = () => useChange(({ id }: Id) => send('DELETE /api/colleagues/{id}', { params: { id } }));

export const useTakeSecondFactor = () =>
  useChange(({ id }: Id) => send('DELETE /api/colleagues/{id}/second-factor', { params: { id } }));

export const useChangePassword = () =>
  useMutation({
    mutationFn: (body: { readonly current: string; readonly password: string }) => send('PUT /api/password', { body }),
  });
