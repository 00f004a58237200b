import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Answers, Demand, getAnswers, getDemand, getWords } from '#core/contract/demandCalls.ts';
import type {
  EditionEffect,
  FunnelRow,
  getCountSeries,
  getEditionEffect,
  getFunnel,
  getRuleProducts,
} from '#core/contract/insightCalls.ts';
import { toLocal, type Zone } from '#core/model/zone.ts';
import { useGoods } from '../goods/useGoods.ts';
import { send, sendPatiently } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { oneOf, queryOf, useFilters } from '../shared/useFilters.ts';
import { isGivenUp, useProgress } from '../shared/useProgress.ts';

/** Days in the shop's zone, from the first until the day after the last. */
export interface Period {
  readonly from: string;
  readonly until: string;
}

const DAY_MS = 86_400_000;
const dayOf = (local: number) => new Date(local).toISOString().slice(0, 10);

/** The last so many days, today among them. */
function periodOf(zone: Zone, days: number): Period {
  const today = toLocal(zone, Date.now());
  return { from: dayOf(today - (days - 1) * DAY_MS), until: dayOf(today + DAY_MS) };
}

const PERIODS = { week: 7, month: 30, quarter: 90 } as const;
export const PERIOD_NAMES = { week: '7 days', month: '30 days', quarter: '90 days' } as const;

/** The period that the address names, once the shop's zone is known. */
export function usePeriod() {
  const [search, set] = useFilters();
  const goods = useGoods();
  const chosen = oneOf(PERIODS, search.get('period')) ?? 'month';
  const zone = goods.data?.shop.zone;
  return {
    goods,
    chosen,
    choose: (period: keyof typeof PERIODS) => {
      set('period', period);
    },
    period: zone && periodOf(zone, PERIODS[chosen]),
    /** An address of this group, for the same period and moment. */
    to: (path: string) => `${path}?${queryOf(search, ['period', 'at'])}`,
  };
}
export type InPeriod = ReturnType<typeof usePeriod>;

/** A query of a call, without what is not said. */
export const queryFor = (asked: Readonly<Record<string, string | undefined>>): string =>
  new URLSearchParams(
    Object.entries(asked).flatMap(([name, value]) => (value === undefined ? [] : [[name, value]])),
  ).toString();

export interface FunnelAsked {
  readonly period: Period | undefined;
  readonly audience: string | undefined;
}

export const useFunnel = ({ period, audience }: FunnelAsked) =>
  useQuery({
    queryKey: keys.insights('funnel', { ...period, audience }),
    queryFn: async () =>
      (await send<typeof getFunnel>('get', `/api/insights/funnel?${queryFor({ ...period, audience })}`)).body,
    enabled: period !== undefined,
    placeholderData: keepPreviousData,
  });

export const rowQuery = ({ rule, control }: Pick<FunnelRow, 'rule' | 'control'>) => ({ rule: rule ?? '', control });

export const useRuleProducts = (row: Pick<FunnelRow, 'rule' | 'control'>, period: Period) =>
  useQuery({
    queryKey: keys.insights('products', { ...rowQuery(row), ...period }),
    queryFn: async () => {
      const query = queryFor({ ...rowQuery(row), ...period });
      return (await send<typeof getRuleProducts>('get', `/api/insights/products?${query}`)).body;
    },
  });

/** @param row of the funnel; all of them without one */
export const useSeries = ({ period, audience }: FunnelAsked, row: Pick<FunnelRow, 'rule' | 'control'> | undefined) => {
  const asked = { ...period, audience, ...(row ? rowQuery(row) : {}) };
  return useQuery({
    queryKey: keys.insights('series', asked),
    queryFn: async () => (await send<typeof getCountSeries>('get', `/api/insights/series?${queryFor(asked)}`)).body,
    enabled: period !== undefined,
    placeholderData: keepPreviousData,
  });
};

export const useDemand = (asked: Readonly<Record<string, string | undefined>> & Partial<Period>) =>
  useQuery({
    queryKey: keys.insights('demand', asked),
    queryFn: async (): Promise<Demand> =>
      (await send<typeof getDemand>('get', `/api/insights/demand?${queryFor(asked)}`)).body,
    enabled: asked.from !== undefined,
    placeholderData: keepPreviousData,
  });

export const useAnswers = (period: Period | undefined) =>
  useQuery({
    queryKey: keys.insights('answers', { ...period }),
    queryFn: async (): Promise<Answers> =>
      (await send<typeof getAnswers>('get', `/api/insights/answers?${queryFor({ ...period })}`)).body,
    enabled: period !== undefined,
    placeholderData: keepPreviousData,
  });

export const useWords = (period: Period | undefined) =>
  useQuery({
    queryKey: keys.insights('words', { ...period }),
    queryFn: async () => (await send<typeof getWords>('get', `/api/insights/words?${queryFor({ ...period })}`)).body,
    enabled: period !== undefined,
    placeholderData: keepPreviousData,
  });

/** Effect of an edition; finding the affected products may take long. */
export function useEditionEffect(number: number) {
  const queryKey = keys.insights('edition', { number });
  const progress = useProgress(queryKey);
  const query = useQuery({
    queryKey,
    queryFn: async ({ signal }): Promise<EditionEffect> =>
      sendPatiently<typeof getEditionEffect>('get', `/api/insights/editions/${number}`, { signal }, progress.report),
  });
  return { ...query, isGivenUp: isGivenUp(query), progress };
}
