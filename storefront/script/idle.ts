import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { SharedDecision } from '#core/engine/decision.ts';
import { areasOnPage, type Area } from './areas.ts';
import { countPage, countPress } from './counts.ts';
import { reportMisses } from './misses.ts';
import { showMarker } from './opening.ts';
import { quietly } from './quietly.ts';
import type { PageSettings } from './settings.ts';

/** Counts views and presses of areas from now on. */
type Count = (areas: readonly Area[], press?: Event) => void;

/** A page has been drawn, also by scripts, this long after it was loaded; only then is anything missing. */
const DRAWN_MS = 4000;

/**
 * Work that nobody waits for: shows a quote sheet's badge, reports missing parts, and counts views and presses.
 * @param pageSettings as they are whenever they are looked at
 */
export function onIdle(
  origin: string,
  pageMap: PageMap,
  pageSettings: PageSettings,
  decisionOf: (area: Area) => SharedDecision | null | undefined,
  sizeIn: (area: Area) => string | undefined,
): Count {
  setTimeout(() => {
    reportMisses(origin, pageMap, areasOnPage(pageMap));
  }, DRAWN_MS);
  quietly(() => {
    showMarker({ ...pageSettings, origin });
  });
  const shownIn = (area: Area) => {
    const decision = decisionOf(area);
    return decision ? { variant: sizeIn(area) ?? null, decision } : undefined;
  };
  return (areas, press) => {
    if (document.querySelector('script[data-counts=off]')) return;
    countPage({ origin, visitor: pageSettings.visitor, pageMap, shownIn }, areas);
    if (press) countPress(press);
  };
}
