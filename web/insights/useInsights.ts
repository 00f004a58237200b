import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { FunnelRow, getFunnel, getRuleProducts } from '#core/contract/countCalls.ts';
import { toLocal, type Zone } from '#core/model/zone.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

/** Days in the shop's zone, from the first until the day after the last. */
export interface Period {
  readonly from: string;
  readonly until: string;
}

const DAY_MS = 86_400_000;
const dayOf = (local: number) => new Date(local).toISOString().slice(0, 10);

/** The last so many days, today among them. */
export function periodOf(zone: Zone, days: number): Period {
  const today = toLocal(zone, Date.now());
  return { from: dayOf(today - (days - 1) * DAY_MS), until: dayOf(today + DAY_MS) };
}

export const useFunnel = (period: Period | undefined) =>
  useQuery({
    queryKey: keys.funnel(period),
    queryFn: async () => {
      const query = new URLSearchParams({ ...period }).toString();
      return (await send<typeof getFunnel>('get', `/api/insights/funnel?${query}`)).body.rows;
    },
    enabled: period !== undefined,
    placeholderData: keepPreviousData,
  });

export const useRuleProducts = ({ rule, control }: Pick<FunnelRow, 'rule' | 'control'>, period: Period) =>
  useQuery({
    queryKey: keys.ruleProducts({ rule, control, ...period }),
    queryFn: async () => {
      const query = new URLSearchParams({ rule: rule ?? '', control, ...period }).toString();
      return (await send<typeof getRuleProducts>('get', `/api/insights/products?${query}`)).body;
    },
  });
