import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ProgramKey } from '#core/contract/keyCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

export const useKeys = () =>
  useQuery({
    queryKey: keys.programKeys,
    queryFn: async () => (await send('GET /api/keys')).body,
  });

function useChange<Given, Answer>(change: (given: Given) => Promise<Answer>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => client.invalidateQueries({ queryKey: keys.programKeys }),
  });
}

export const useMakeKey = () =>
  useChange(async (body: Pick<ProgramKey, 'name' | 'scopes'>) => (await send('POST /api/keys', { body })).body);

export const useRevokeKey = () =>
  useChange(({ id }: Pick<ProgramKey, 'id'>) => send('DELETE /api/keys/{id}', { params: { id } }));
