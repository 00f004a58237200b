import { addressIn } from '../shared/address.ts';
import { textsIn } from '../shared/textsIn.ts';
import { announcer } from './announce.ts';
import { apply, applyTogether, leave, showOthers } from './apply.ts';
import {
  areasIn,
  areasOnPage,
  chosenVariant,
  partsOnPage,
  rememberChosenVariant,
  type Area,
  type Surface,
} from './areas.ts';
import { decisionIn } from './ask.ts';
import { asking } from './asking.ts';
import { hold } from './hold.ts';
import { STAND_IN } from './marks.ts';
import { later, type Later } from './modules.ts';
import { openDialog } from './opening.ts';
import { clearCopies } from './place.ts';
import { keepPresses } from './presses.ts';
import { quietly } from './quietly.ts';
import { findAll } from './roots.ts';
import { readPageSettings, type PageSettings, type Settings } from './settings.ts';
import { soon } from './soon.ts';
import { turns } from './turns.ts';
import { applyVisit } from './visit.ts';
import { watch, type Touched } from './watch.ts';

/** Structured data of pages. */
const STRUCTURED = '[type="application/ld+json"], [itemprop]';

/**
 * Applies decisions to the page, now and whenever the page changes.
 * @param always settings that override the page's own, for previews
 */
export function start(settings: Settings, always: PageSettings = {}): void {
  const { pageMap, origin, texts } = settings;
  if (!pageMap) return;
  const pageSettings = { ...readPageSettings(document.currentScript as HTMLScriptElement | null), ...always };
  const holding = hold(pageMap);
  keepPresses((press) => {
    count?.(areas, press);
  });
  const safely = (work: () => void) => {
    quietly(work, holding.release);
  };
  /** All that the page shows. */
  let areas: readonly Area[] = [];
  let partsOf = partsOnPage(pageMap);
  /** Visit whose structured data was written last. */
  let reported: unknown = settings;
  let announce = announcer();
  /** Counts views once the page is idle. */
  let count: ReturnType<Later['onIdle']> | undefined;

  const known = asking(
    settings,
    pageMap,
    pageSettings,
    safely,
    () => {
      applying.apply(areas);
    },
    () => {
      holding.giveUp();
      applyAll();
    },
  );
  const sizeIn = (area: Area) => (area.surface === 'listing' ? undefined : chosenVariant(area, pageMap));
  const decisionOf = (area: Area) => {
    const answered = known.of(area);
    return answered && decisionIn(answered, sizeIn(area));
  };
  const applying = turns(
    pageMap,
    known,
    holding,
    safely,
    (area, answered) => {
      const decision = answered && decisionOf(area);
      if (!decision) {
        leave(area, pageMap, origin);
        return;
      }
      const { path, surface } = area;
      const visit = known.visit();
      apply(area, pageMap, decision, {
        origin,
        path,
        surface,
        isShut: visit ? !(visit.cart.open && visit.checkout.open && visit.checkout.submitOrder.show) : false,
        variantId: sizeIn(area),
        isChosen: sizeIn(area) !== undefined || !area.parts(pageMap.variant)[0],
        texts: textsIn(texts, document.documentElement.lang),
        openDialog: (control, like) => {
          openDialog(area, pageMap, known.of(area), control, like, { ...pageSettings, origin, changed: startOver });
        },
      });
      announce(area, decision.control);
    },
    () => {
      const visit = known.visit();
      showOthers(areas, pageMap, partsOf);
      applyTogether(pageMap);
      if (visit !== undefined) applyVisit(visit, pageMap);
      count?.(areas);
      if (findAll(document, STRUCTURED, pageMap).length > 0) updateMachineData();
    },
  );

  const updateMachineData = () => {
    later(origin, ({ updateStructuredData }) => {
      updateStructuredData({
        areas: areas.flatMap((area) => {
          const decision = decisionOf(area);
          return decision ? [[area, decision] as const] : [];
        }),
        decisionsAt: (url) => {
          const path = addressIn(url, pageMap.productPage.parameters);
          const of = (surface: Surface) => known.of({ path, surface });
          const answered = of('product') ?? of('listing');
          const area = areas.find((candidate) => candidate.path === path);
          const chosen = area && chosenVariant(area, pageMap);
          return answered ? (sku) => decisionIn(answered, answered.variants.has(sku ?? '') ? sku : chosen) : undefined;
        },
        isNew: reported !== known.visit(),
      });
      reported = known.visit();
    });
  };

  const applyAll = () => {
    for (const root of holding.reach()) {
      watching.alsoIn(root);
      applying.forget([root]);
    }
    if (document.readyState === 'loading') {
      // Nothing has been asked yet.
      holding.below(findAll(document, areasIn(pageMap), pageMap)[0]);
      return;
    }
    clearCopies(findAll(document, `[${STAND_IN}]`, pageMap));
    partsOf = partsOnPage(pageMap);
    areas = areasOnPage(pageMap, partsOf);
    // While nothing is known, all that is seen is held.
    if (known.visit() !== undefined || !areas.length) applying.apply(areas);
    else holding.below(areas[0]?.element);
    soon(() => {
      safely(() => {
        known.ask(areas);
      });
    });
  };
  const reapply = (touched: Touched = []) => {
    safely(() => {
      applying.forget(known.visit() === undefined ? null : touched);
      applyAll();
    });
  };
  const watching = watch(pageMap, reapply, (event) => {
    quietly(() => {
      rememberChosenVariant(event, pageMap);
    });
  });
  /** Drops all answers, which may no longer hold for this page. */
  const startOver = () => {
    known.forget();
    announce = announcer();
    reapply(null);
    // Hides the parts again until they are decided.
    safely(() => {
      applying.apply(areas);
    });
  };
  document.addEventListener('DOMContentLoaded', () => {
    reapply();
  });
  addEventListener('load', () => {
    later(origin, ({ onIdle }) => {
      (count = onIdle(origin, pageMap, pageSettings, decisionOf, sizeIn))(areas);
    });
  });
  addEventListener('pageshow', ({ persisted }) => {
    if (persisted) startOver();
  });
  Object.assign(globalThis, {
    understudy: {
      /** For pages that change who is visiting, or the cart, without being loaded again. */
      refresh: (now: PageSettings = {}) => {
        Object.assign(pageSettings, now, always);
        startOver();
      },
    },
  });
  // In a page's head there is nothing to look at yet.
  if (document.body as HTMLElement | null) reapply();
}
