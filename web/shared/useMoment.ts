import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Zone } from '#core/model/zone.ts';
import { fieldTime, instantOf } from './times.ts';

const MINUTE = 60_000;

/** The moment that every preview looks at: now, or the one in the address (`?at=`, in the shop's zone). */
export interface LookedAt {
  readonly moment: number;
  readonly isNow: boolean;
  /** Null goes back to now. */
  readonly look: (moment: number | null) => void;
}

export function useMoment(zone: Zone | undefined): LookedAt {
  const [search, setSearch] = useSearchParams();
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => {
      setNow(Date.now());
    }, MINUTE);
    return () => {
      clearInterval(timer);
    };
  }, []);
  const at = search.get('at');
  const chosen = at === null || !zone ? null : instantOf(at, zone);
  return {
    moment: chosen ?? now,
    isNow: chosen === null,
    look: (moment) => {
      setSearch((before) => {
        const next = new URLSearchParams(before);
        if (moment === null || !zone) next.delete('at');
        else next.set('at', fieldTime(moment, zone));
        return next;
      });
    },
  };
}

/** An address that goes on looking at the same moment. */
export function withMoment(path: string, search: URLSearchParams): string {
  const at = search.get('at');
  const join = path.includes('?') ? '&' : '?';
  return at === null ? path : `${path}${join}${new URLSearchParams({ at }).toString()}`;
}
