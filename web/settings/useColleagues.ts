import type { deleteColleaguesFactor } from '#core/contract/secondFactorCalls.ts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  Colleague,
  deleteColleague,
  inviteAgain,
  listColleagues,
  postColleague,
  putColleague,
  putPassword,
} from '#core/contract/colleagueCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

export const useColleagues = () =>
  useQuery({
    queryKey: keys.colleagues,
    queryFn: async () => (await send<typeof listColleagues>('get', '/api/colleagues')).body,
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
    async (body: Pick<Colleague, 'name' | 'email' | 'role'>) =>
      (await send<typeof postColleague>('post', '/api/colleagues', { body })).body,
  );

export const useInviteAgain = () =>
  useChange(async ({ id }: Id) => (await send<typeof inviteAgain>('post', `/api/colleagues/${id}/invitation`)).body);

export const useSetRole = () =>
  useChange(({ id, role }: Pick<Colleague, 'id' | 'role'>) =>
    send<typeof putColleague>('put', `/api/colleagues/${id}`, { body: { role } }),
  );

export const useLetGo = () =>
  useChange(({ id }: Id) => send<typeof deleteColleague>('delete', `/api/colleagues/${id}`));

export const useTakeSecondFactor = () =>
  useChange(({ id }: Id) => send<typeof deleteColleaguesFactor>('delete', `/api/colleagues/${id}/second-factor`));

export const useChangePassword = () =>
  useMutation({
    mutationFn: (body: { readonly current: string; readonly password: string }) =>
      send<typeof putPassword>('put', '/api/password', { body }),
  });
