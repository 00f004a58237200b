import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import { holdAgain } from './apply.ts';
import { areaOf, type Area } from './areas.ts';
import { key, type Answered } from './ask.ts';
import type { Known } from './asking.ts';
import type { Holding } from './hold.ts';
import { MARK } from './marks.ts';
import { soon } from './soon.ts';
import type { Touched } from './watch.ts';

/** Longest turn in ms before the rest waits, so that the page stays responsive (RAIL: well under 50 ms, also on slow devices). */
const TURN_MS = 15;

/**
 * Makes areas what was answered, in turns: what has been seen is put right at once, what is still held can wait.
 * @param whenDone all that is known has been applied
 */
export function turns(
  pageMap: PageMap,
  known: Known,
  holding: Holding,
  safely: (work: () => void) => void,
  applyTo: (area: Area, answered: Answered | null) => void,
  whenDone: () => void,
) {
  /** The last state applied to each area; removed when the page changes it. */
  let settled = new WeakMap<Element, { readonly by: Answered | null; readonly key: string }>();
  /** Areas that are not known yet, or wait for their turn. */
  let left: readonly Area[] = [];
  let isTurnDue = false;

  const applyLeft = (isLate = false) => {
    const begun = performance.now();
    left = left.filter((area) => {
      const by = known.of(area);
      if (by === undefined) {
        holdAgain(area, pageMap);
        return true;
      }
      const before = settled.get(area.element);
      if (before?.by === by && before.key === key(area)) return false;
      if (isLate && !area.element.hasAttribute(MARK)) return true;
      applyTo(area, by);
      settled.set(area.element, { by, key: key(area) });
      isLate ||= performance.now() - begun > TURN_MS;
      return false;
    });
    holding.below(left[0]?.element);
    if (!left.some((area) => known.of(area) !== undefined)) whenDone();
    else if (!isTurnDue) {
      isTurnDue = true;
      soon(() => {
        isTurnDue = false;
        safely(applyLeft);
      });
    }
  };

  return {
    apply(areas: readonly Area[]) {
      left = areas;
      applyLeft(isTurnDue);
    },
    /** Drops the state of the areas around these elements, which the page changed; null: all areas. */
    forget(nodes: Touched) {
      if (nodes === null) settled = new WeakMap();
      for (const node of nodes ?? []) {
        const area = areaOf(node, pageMap);
        if (area) settled.delete(area);
      }
    },
  };
}
