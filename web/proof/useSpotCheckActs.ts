import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { deleteSpotCheck, postSpotCheck, putSpotCheck, SpotCheck } from '#core/contract/spotCheckCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

/** Keeps, changes and deletes spot checks. */
export function useSpotCheckActs() {
  const client = useQueryClient();
  const onSuccess = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: keys.ofDraft(['spot-checks']) }),
      client.invalidateQueries({ queryKey: keys.attention }),
    ]);
  const keep = useMutation({
    mutationFn: (check: SpotCheck) => send<typeof postSpotCheck>('post', '/api/spot-checks', { body: check }),
    onSuccess,
  });
  const change = useMutation({
    mutationFn: ({ id, check }: { id: number; check: SpotCheck }) =>
      send<typeof putSpotCheck>('put', `/api/spot-checks/${id}`, { body: check }),
    onSuccess,
  });
  const remove = useMutation({
    mutationFn: (id: number) => send<typeof deleteSpotCheck>('delete', `/api/spot-checks/${id}`),
    onSuccess,
  });
  return { keep, change, remove };
}
