import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { SpotCheck } from '#core/contract/spotCheckCalls.ts';
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
    mutationFn: (check: SpotCheck) => send('POST /api/spot-checks', { body: check }),
    onSuccess,
  });
  const change = useMutation({
    mutationFn: ({ id, check }: { id: number; check: SpotCheck }) =>
      send('PUT /api/spot-checks/{id}', { params: { id }, body: check }),
    onSuccess,
  });
  const remove = useMutation({
    mutationFn: (id: number) => send('DELETE /api/spot-checks/{id}', { params: { id } }),
    onSuccess,
  });
  return { keep, change, remove };
}
