import { keepPreviousData, skipToken, useQuery } from '@tanstack/react-query';
import type { Answers, Demand } from '#core/contract/demandCalls.ts';
import type { EditionEffect, FunnelRow } from '#core/contract/insightCalls.ts';
import { toLocal, type Zone } from '#core/model/zone.ts';
import { useGoods } from '../goods/useGoods.ts';
import { send, sendPatiently, type QueryOf } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { oneOf, queryOf, queryText, useFilters } from '../shared/useFilters.ts';
import { isGivenUp, useProgress } from '../shared/useProgress.ts';

/** Days in the shop's zone, from the first until the day after the last. */
export interface Period {
  readonly from: string;
  readonly until: string;
}

const DAY_MS = 86_400_000;
const dayOf = (local: number) => new Date(local).toISOString().slice(0, 10);

/** Periods in days, ending today. */
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
    to: (path: string) => `${path}?${queryText(queryOf(search, ['period', 'at']))}`,
  };
}
export type InPeriod = ReturnType<typeof usePeriod>;

export interface FunnelAsked {
  readonly period: Period | undefined;
  readonly audience: string | undefined;
}

export const useFunnel = ({ period, audience }: FunnelAsked) =>
  useQuery({
    queryKey: keys.insights('funnel', { ...period, audience }),
    queryFn: period
      ? async () => (await send('GET /api/insights/funnel', { query: { ...period, audience } })).body
      : skipToken,
    placeholderData: keepPreviousData,
  });

export const rowQuery = ({ rule, control }: Pick<FunnelRow, 'rule' | 'control'>) => ({ rule: rule ?? '', control });

export const useRuleProducts = (row: Pick<FunnelRow, 'rule' | 'control'>, period: Period) =>
  useQuery({
    queryKey: keys.insights('products', { ...rowQuery(row), ...period }),
    queryFn: async () => {
      const query = { ...rowQuery(row), ...period };
      return (await send('GET /api/insights/products', { query })).body;
    },
  });

/** @param row of the funnel; all of them without one */
export const useSeries = ({ period, audience }: FunnelAsked, row: Pick<FunnelRow, 'rule' | 'control'> | undefined) => {
  const asked = { audience, ...(row ? rowQuery(row) : {}) };
  return useQuery({
    queryKey: keys.insights('series', { ...period, ...asked }),
    queryFn: period
      ? async () => (await send('GET /api/insights/series', { query: { ...period, ...asked } })).body
      : skipToken,
    placeholderData: keepPreviousData,
  });
};

export const useDemand = (period: Period | undefined, asked: Omit<QueryOf<'GET /api/insights/demand'>, keyof Period>) =>
  useQuery({
    queryKey: keys.insights('demand', { ...period, ...asked }),
    queryFn: period
      ? async (): Promise<Demand> => (await send('GET /api/insights/demand', { query: { ...period, ...asked } })).body
      : skipToken,
    placeholderData: keepPreviousData,
  });

export const useAnswers = (period: Period | undefined) =>
  useQuery({
    queryKey: keys.insights('answers', { ...period }),
    queryFn: period
      ? async (): Promise<Answers> => (await send('GET /api/insights/answers', { query: period })).body
      : skipToken,
    placeholderData: keepPreviousData,
  });

export const useWords = (period: Period | undefined) =>
  useQuery({
    queryKey: keys.insights('words', { ...period }),
    queryFn: period ? async () => (await send('GET /api/insights/words', { query: period })).body : skipToken,
    placeholderData: keepPreviousData,
  });

/** Effect of an edition; finding the affected products may take long. */
export function useEditionEffect(number: number) {
  const queryKey = keys.insights('edition', { number });
  const progress = useProgress(queryKey);
  const query = useQuery({
    queryKey,
    queryFn: async ({ signal }): Promise<EditionEffect> =>
      sendPatiently('GET /api/insights/editions/{number}', { params: { number }, signal }, progress.report),
  });
  return { ...query, isGivenUp: isGivenUp(query), progress };
}
