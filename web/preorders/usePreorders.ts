import { useQuery } from '@tanstack/react-query';
import type {
  allocatePreorders,
  listPreorderGoods,
  listPreorders,
  movePreorders,
  PreorderState,
  putShipDate,
} from '#core/contract/preorderCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { usePages } from '../shared/pages.tsx';
import { useRequestChange } from '../shared/useRequestChange.ts';

const PAGE = 100;
const AGAIN_MS = 30_000;

export const usePreorderGoods = () =>
  useQuery({
    queryKey: keys.preorders,
    queryFn: async () => (await send<typeof listPreorderGoods>('get', '/api/preorders/goods')).body,
    refetchInterval: AGAIN_MS,
  });

export const usePreorders = (query: string) =>
  usePages(keys.preorderPages(query), async (after) => {
    const { body } = await send<typeof listPreorders>('get', `/api/preorders?limit=${PAGE}&${query}${after}`);
    return { ...body, items: body.preorders };
  });

const useChange = <T, R>(change: (given: T) => Promise<R>) => useRequestChange(keys.preorders, change);

interface Allocation {
  readonly variant: string;
  readonly units: number;
  readonly first: readonly string[];
}

const allocate = async (request: Allocation & { readonly preview: boolean }) =>
  (await send<typeof allocatePreorders>('post', '/api/preorders/allocation', { body: request })).body;

/** Whom an allocation would serve; nothing is changed. */
export const useAllocationPreview = (request: Allocation, isWanted: boolean) =>
  useQuery({
    queryKey: [...keys.preorders, 'preview', request],
    queryFn: () => allocate({ ...request, preview: true }),
    enabled: isWanted,
  });

export const useAllocate = () => useChange((request: Allocation) => allocate({ ...request, preview: false }));

export const useMove = () =>
  useChange(
    async (body: { readonly preorders: readonly string[]; readonly to: PreorderState; readonly notify: boolean }) =>
      (await send<typeof movePreorders>('post', '/api/preorders/states', { body })).body.moved,
  );

export const useShipDate = () =>
  useChange(
    async (body: { variant: string; from: string | null; until: string | null; words: string }) =>
      (await send<typeof putShipDate>('put', '/api/preorders/dates', { body })).body.notified,
  );
