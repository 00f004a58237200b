import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Job } from '#core/contract/importCalls.ts';
import type { FileReading } from '#core/imports/fileReading.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import type { ImportTarget } from './targets.ts';
import { isUnderWay } from './RecentImports.tsx';

const POLL_MS = 400;

export interface ImportWays {
  readonly mode: 'merge' | 'replace';
  readonly badRows: 'skip' | 'refuseAll';
}

interface Chosen extends ImportWays {
  readonly file: File;
  readonly headings: readonly string[];
  readonly reading: FileReading;
}

/** Earlier options for files of this kind. */
export const readingOf = async (target: ImportTarget, headings: readonly string[]): Promise<FileReading | null> => {
  const { body } = await send('GET /api/imports/readings');
  const same = (one: (typeof body)[number]) =>
    one.target === target.name && JSON.stringify(one.headings) === JSON.stringify(headings);
  return body.find(same)?.reading ?? null;
};

/** A file on its way in: looked at first, then written. */
export function useImport(target: ImportTarget) {
  const client = useQueryClient();
  const looking = useMutation({
    mutationFn: async ({ file, headings, reading, mode, badRows }: Chosen) => {
      const body = { target: target.name, headings: [...headings], reading };
      const { id } = (await send('PUT /api/imports/readings', { body })).body;
      const query = { mode, badRows, preview: 'true', reading: id };
      return (await send(`POST ${target.address}`, { query, csv: file })).body as Job;
    },
  });
  const id = looking.data?.id;
  const starting = useMutation({
    // The dialog has asked for confirmation already.
    mutationFn: (job: Job) =>
      send('POST /api/imports/{id}/start', { params: { id: job.id }, query: { archive: 'true' } }),
    onSuccess: ({ body }) => {
      client.setQueryData(keys.job(body.id), body);
      return client.invalidateQueries({ queryKey: keys.job(body.id) });
    },
  });
  const progress = useQuery({
    queryKey: keys.job(id ?? ''),
    queryFn: async () => {
      const { body } = await send('GET /api/jobs/{id}', { params: { id: id ?? '' } });
      if (!isUnderWay(body) && body.state !== 'previewed')
        await client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'job' });
      return body;
    },
    enabled: id !== undefined,
    refetchInterval: ({ state }) => (state.data && !isUnderWay(state.data) ? false : POLL_MS),
  });
  const job = looking.data && (progress.data ?? looking.data);
  return {
    job,
    isSending: looking.isPending,
    error: looking.error ?? starting.error ?? progress.error,
    look: looking.mutate,
    start: () => {
      if (job) starting.mutate(job);
    },
    /** Discards a preview that was not started. */
    drop: () => {
      if (job?.state === 'previewed')
        void send('POST /api/imports/{id}/cancellation', { params: { id: job.id } }).catch(() => undefined);
      looking.reset();
      starting.reset();
    },
  };
}
