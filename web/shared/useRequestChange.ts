import { useMutation, useQueryClient, type QueryKey } from '@tanstack/react-query';
import { keys } from '../api/keys.ts';

/** A change to requests, after which they, and what waits for whom, are read again. */
export function useRequestChange<Given, Answer>(list: QueryKey, change: (given: Given) => Promise<Answer>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    // Not waited for: what follows a change, such as that nobody is chosen any more, is at once.
    onSettled: () => {
      for (const queryKey of [list, keys.attention, keys.selling]) void client.invalidateQueries({ queryKey });
    },
  });
}
