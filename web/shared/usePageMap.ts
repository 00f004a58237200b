import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { PageMap } from '#core/contract/pageMap.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

const ATTENTION_MS = 60_000;

/** The live page map and its draft; looked at again whenever the window is, for the picker works in another. */
export const usePageMap = (isWanted = true) =>
  useQuery({
    queryKey: keys.pageMap,
    queryFn: async () => (await send('GET /api/page-map')).body,
    refetchOnWindowFocus: 'always',
    enabled: isWanted,
  });

export const useEarlierMaps = (isWanted: boolean) =>
  useQuery({
    queryKey: keys.pageMaps,
    queryFn: async () => (await send('GET /api/page-map/history')).body,
    enabled: isWanted,
  });

/** Work that waits for a person. */
export const useAttention = () =>
  useQuery({
    queryKey: keys.attention,
    queryFn: async () => (await send('GET /api/attention')).body,
    refetchInterval: ATTENTION_MS,
  });

/** A change to the page map, after which everything about it is read again. */
function useMapChange<T, R>(mutationFn: (given: T) => Promise<R>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn,
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.pageMap });
      await client.invalidateQueries({ queryKey: keys.attention });
    },
  });
}

export const useSaveMap = () =>
  useMapChange(async (body: PageMap) => {
    await send('PUT /api/page-map/draft', { body });
  });

export const useDiscardDraft = () =>
  useMapChange(async () => {
    await send('DELETE /api/page-map/draft');
  });

export const useCheck = () =>
  useMapChange(async (of: 'draft' | 'live') => (await send('POST /api/page-map/check', { query: { of } })).body);

export const usePublishMap = () => useMapChange(async () => (await send('POST /api/page-map/publish')).body);

export const useRestoreMap = () =>
  useMapChange(async (id: number) => {
    await send('POST /api/page-map/history/{id}/restore', { params: { id } });
  });

/** @returns the address that opens the picker, and its id for asking whether it has started */
export const usePicker = () =>
  useMutation({
    mutationFn: async (page: string) => {
      const { address, id } = (await send('POST /api/picker', { body: { page } })).body;
      const opened: OpenedPicker = { address, id, page: address.replace(/#.*$/, ''), at: Date.now() };
      return opened;
    },
  });

/** A picker that was asked for; `at` in epoch ms. */
export interface OpenedPicker {
  readonly address: string;
  readonly id: string;
  readonly page: string;
  readonly at: number;
}

/** Time for a page to load before its picker counts as not started. */
const STARTS_WITHIN_MS = 6000;
const ASK_EVERY_MS = 1000;

/** Why a picker has not started, once it should have; null until then, and when it has. */
export function usePickerProblem(opened: OpenedPicker | undefined): string | null {
  const { data } = useQuery({
    queryKey: keys.picker(opened?.id ?? ''),
    enabled: opened !== undefined,
    queryFn: async () => {
      const { id, page, at } = opened ?? { id: '', page: '', at: 0 };
      const isDue = Date.now() - at > STARTS_WITHIN_MS;
      return (await send('GET /api/picker/{id}', { params: { id }, query: isDue ? { page } : {} })).body;
    },
    refetchInterval: ({ state }) => (state.data?.hasStarted || state.data?.problem != null ? false : ASK_EVERY_MS),
  });
  return data?.problem ?? null;
}
