import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { SharedDecision } from '#core/engine/decision.ts';
import { areasOnPage, type Area } from './areas.ts';
import { countPage } from './counts.ts';
import { reportMisses } from './misses.ts';
import type { PageSettings } from './settings.ts';

/** A page has been drawn, also by scripts, this long after it was loaded; only then is anything missing. */
const DRAWN_MS = 4000;

/**
 * Does what nobody waits for: says which parts the page lacks, and counts what is seen of the areas that it is given.
 * @param pageSettings as they are whenever they are looked at
 */
export function onIdle(
  origin: string,
  pageMap: PageMap,
  pageSettings: PageSettings,
  decisionOf: (area: Area) => SharedDecision | null | undefined,
  sizeIn: (area: Area) => string | undefined,
): (areas: readonly Area[]) => void {
  setTimeout(() => {
    reportMisses(origin, pageMap, [...areasOnPage(pageMap)]);
  }, DRAWN_MS);
  const shownIn = (area: Area) => {
    const decision = decisionOf(area);
    return decision ? { variant: sizeIn(area) ?? null, decision } : undefined;
  };
  return (areas) => {
    if (document.querySelector('script[data-counts=off]')) return;
    countPage({ origin, visitor: pageSettings.visitor, pageMap, shownIn }, areas);
  };
}
