import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { SharedDecision } from '#core/engine/decision.ts';
import { areasOnPage, type Area } from './areas.ts';
import { countPage, countPress } from './counts.ts';
import { reportMisses } from './misses.ts';
import { showMarker } from './opening.ts';
import { quietly } from './quietly.ts';
import type { PageSettings } from './settings.ts';

/** Counts what is seen of areas from now on, and a press there. */
type Count = (areas: readonly Area[], press?: Event) => void;

/** A page has been drawn, also by scripts, this long after it was loaded; only then is anything missing. */
const DRAWN_MS = 4000;

/**
 * Does what nobody waits for: shows that a quote sheet was begun, says which parts the page lacks, and counts what is seen and pressed.
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
    reportMisses(origin, pageMap, [...areasOnPage(pageMap)]);
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
