import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { PageMap } from '#core/contract/pageMap.ts';
import type {
  checkPageMap,
  deletePageMapDraft,
  getPageMap,
  listPageMaps,
  postPicker,
  publishPageMap,
  putPageMapDraft,
  restorePageMap,
} from '#core/contract/pageMapCalls.ts';
import type { getAttention } from '#core/contract/attentionCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

const ATTENTION_MS = 60_000;

/** The live page map and its draft; looked at again whenever the window is, for the picker works in another. */
export const usePageMap = () =>
  useQuery({
    queryKey: keys.pageMap,
    queryFn: async () => (await send<typeof getPageMap>('get', '/api/page-map')).body,
    refetchOnWindowFocus: 'always',
  });

export const useEarlierMaps = (isWanted: boolean) =>
  useQuery({
    queryKey: keys.pageMaps,
    queryFn: async () => (await send<typeof listPageMaps>('get', '/api/page-map/history')).body,
    enabled: isWanted,
  });

/** What waits for a person. */
export const useAttention = () =>
  useQuery({
    queryKey: keys.attention,
    queryFn: async () => (await send<typeof getAttention>('get', '/api/attention')).body,
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
    await send<typeof putPageMapDraft>('put', '/api/page-map/draft', { body });
  });

export const useDiscardDraft = () =>
  useMapChange(async () => {
    await send<typeof deletePageMapDraft>('delete', '/api/page-map/draft');
  });

export const useCheck = () =>
  useMapChange(
    async (of: 'draft' | 'live') => (await send<typeof checkPageMap>('post', `/api/page-map/check?of=${of}`)).body,
  );

export const usePublishMap = () =>
  useMapChange(async () => (await send<typeof publishPageMap>('post', '/api/page-map/publish')).body);

export const useRestoreMap = () =>
  useMapChange(async (id: number) => {
    await send<typeof restorePageMap>('post', `/api/page-map/history/${id}/restore`);
  });

/** @returns the address of the shop that opens the picker */
export const usePicker = () =>
  useMutation({
    mutationFn: async (page: string) =>
      (await send<typeof postPicker>('post', '/api/picker', { body: { page } })).body.address,
  });
