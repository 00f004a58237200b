import { useMutation, useQueryClient, type QueryKey } from '@tanstack/react-query';
import { keys } from '../api/keys.ts';

/** A change to requests, after which they and the counts of waiting ones are refetched. */
export function useRequestChange<Given, Answer>(list: QueryKey, change: (given: Given) => Promise<Answer>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    // Not awaited, so that effects of a change, such as clearing the selection, happen at once.
    onSettled: () => {
      for (const queryKey of [list, keys.attention, keys.selling]) void client.invalidateQueries({ queryKey });
    },
  });
}
