import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

export const useOpenings = () =>
  useQuery({
    queryKey: keys.openings,
    queryFn: async () => (await send('GET /api/openings')).body.openings,
  });

interface Wanted {
  /** ISO 8601. */
  readonly at: string;
  readonly note: string;
}

/** Sets, changes and calls off openings. */
export function useOpeningActs() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.openings });
  const bodyOf = ({ at, note }: Wanted) => ({ at, ...(note.trim() ? { note } : {}) });
  const set = useMutation({
    mutationFn: ({ ifMatch, ...wanted }: Wanted & { readonly ifMatch: string }) =>
      send('POST /api/openings', { body: bodyOf(wanted), ifMatch }),
    onSuccess,
  });
  const change = useMutation({
    mutationFn: ({ id, rules, ...wanted }: Wanted & { readonly id: number; readonly rules: 'kept' | 'draft' }) =>
      send('PUT /api/openings/{id}', { params: { id }, body: { ...bodyOf(wanted), rules } }),
    onSuccess,
  });
  const callOff = useMutation({
    mutationFn: (id: number) => send('DELETE /api/openings/{id}', { params: { id } }),
    onSuccess,
  });
  return { set, change, callOff };
}
