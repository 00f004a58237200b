import { skipToken, useQuery, useQueryClient, type QueryKey, type UseQueryResult } from '@tanstack/react-query';
import { keys } from '../api/keys.ts';

/** Progress of a long question. */
export interface InProgress {
  /** From 0 to 1; null while nothing is known of it. */
  readonly done: number | null;
  readonly report: (done: number) => void;
  /** Gives it up. */
  readonly stop: () => void;
}

/** Of the question that is kept under a key. */
export function useProgress(queryKey: QueryKey): InProgress {
  const client = useQueryClient();
  const key = keys.progress(queryKey);
  const { data } = useQuery<number | null>({ queryKey: key, queryFn: skipToken });
  return {
    done: data ?? null,
    report: (done) => client.setQueryData(key, done),
    stop: () => {
      client.setQueryData(key, null);
      void client.cancelQueries({ queryKey, exact: true });
    },
  };
}

type ProgressQuery = Pick<UseQueryResult, 'data' | 'error' | 'isEnabled' | 'fetchStatus' | 'isPlaceholderData'>;

/** Whether nobody works on a question that was not answered. */
export const isGivenUp = ({ data, error, isEnabled, fetchStatus, isPlaceholderData }: ProgressQuery): boolean =>
  isEnabled && fetchStatus === 'idle' && error === null && (data === undefined || isPlaceholderData);
