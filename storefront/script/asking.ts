import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { Visit } from '#core/engine/decision.ts';
import { areasOnPage, surfaceOf, type Area } from './areas.ts';
import { ask, key, type Answer, type Answered } from './ask.ts';
import { earliest } from './earliest.ts';
import type { PageSettings, Settings } from './settings.ts';
import { soon } from './soon.ts';
import { concernsVisit } from './visit.ts';

/** After this, a page that has no answer shows its own controls, and asks again. The guard refuses meanwhile. */
const PATIENCE_MS = 1500;
const AGAIN_MS = 5000;

/** Answers for a page's products and visit. */
export interface Known {
  /** Null when nothing can be known; undefined until it is known, as below. */
  readonly of: (place: Pick<Area, 'path' | 'surface'>) => Answered | null | undefined;
  readonly visit: () => Visit | null | undefined;
  /** Asks for products not asked for yet. */
  readonly ask: (areas: readonly Area[]) => void;
  readonly forget: () => void;
}

/**
 * Asks for each product of a page once, and again when its answer expires.
 * @param pageSettings the page's settings, as they change
 * @param whenGivenUp nothing is known, and it has been waited for long enough
 */
export function asking(
  settings: Settings,
  pageMap: PageMap,
  pageSettings: PageSettings,
  safely: (work: () => void) => void,
  whenLearnt: () => void,
  whenGivenUp: () => void,
): Known {
  const answers = new Map<string, Answered | null>();
  let requested = new Set<string>();
  let visit: Visit | null | undefined;
  let isVisitRequested = false;

  const askFor = (areas: readonly Area[]) => {
    if (areas.length === 0 && (isVisitRequested || !concernsVisit(pageMap))) return;
    isVisitRequested = true;
    for (const area of areas) requested.add(key(area));
    // Another one once all was forgotten.
    const current = requested;
    const giveUp = () => {
      if (current !== requested) return;
      // Keeps earlier answers.
      for (const area of areas) answers.set(key(area), answers.get(key(area)) ?? null);
      visit ??= null;
      safely(whenGivenUp);
    };
    const timer = setTimeout(giveUp, PATIENCE_MS);
    const learn = ({ products, ttlMs, visit: found }: Answer) => {
      if (current !== requested) return;
      for (const area of areas) answers.set(key(area), products.get(key(area)) ?? null);
      visit = found;
      soon(() => {
        safely(whenLearnt);
      });
      if (ttlMs < Infinity) askAgainIn(Math.max(ttlMs, 1000));
    };
    const fail = () => {
      giveUp();
      if (current === requested) askAgainIn(AGAIN_MS);
    };
    soon(() => {
      void ask(settings, pageSettings, areas, surfaceOf(pageMap))
        .finally(() => {
          clearTimeout(timer);
        })
        .then(learn, fail);
    });
  };
  /** Asks for all that the page shows, which stays as it is meanwhile. */
  const askAgainIn = earliest(() => {
    safely(() => {
      isVisitRequested = false;
      askFor(areasOnPage(pageMap));
    });
  });

  return {
    of: (place) => answers.get(key(place)),
    visit: () => visit,
    ask(areas) {
      askFor(areas.filter((area) => !requested.has(key(area))));
    },
    forget() {
      answers.clear();
      requested = new Set();
      visit = undefined;
      isVisitRequested = false;
    },
  };
}
