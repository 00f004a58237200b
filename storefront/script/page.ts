import type { Dialogs, Later } from './modules.ts';
import { textsIn } from '../shared/textsIn.ts';
import type { SharedDecision, Visit } from '#core/engine/decision.ts';
import { apply, applyTogether, holdAgain, leave, showOthers } from './apply.ts';
import {
  areaOf,
  areasIn,
  areasOnPage,
  chosenVariant,
  rememberChosenVariant,
  isProductPage,
  surfaceOf,
  partsOnPage,
  type Area,
  type Surface,
} from './areas.ts';
import { ask, decisionIn, key, type Answer, type Answered } from './ask.ts';
import { wordsFor } from './control.ts';
import { hold } from './hold.ts';
import { MARK, STAND_IN } from './marks.ts';
import { clearCopies } from './place.ts';
import { earliest } from './earliest.ts';
import { findAll } from './roots.ts';
import { announce } from './announce.ts';
import { readPageSettings, type PageSettings, type Settings } from './settings.ts';
import { soon } from './soon.ts';
import { applyVisit, concernsVisit } from './visit.ts';
import { watch, type Touched } from './watch.ts';

/** After this, a page that has no answer shows its own controls, and asks again. The guard refuses meanwhile. */
const PATIENCE_MS = 1500;
const AGAIN_MS = 5000;
/** After so long, what is left waits for its turn, so that the page answers meanwhile (RAIL: well under 50 ms, also when slow). */
const TURN_MS = 15;
/** A page has been drawn, also by scripts, this long after it was loaded; only then is anything missing. */
const DRAWN_MS = 4000;

/** Runs on pages that are not ours: whatever goes wrong, they must not notice, and keep their own controls. */
export function quietly(work: () => void, instead?: () => void): void {
  try {
    work();
  } catch {
    instead?.();
  }
}

/** What pages say to machines. */
const STRUCTURED = '[type="application/ld+json"], [itemprop]';

/**
 * Makes the page say what was decided, now and whenever it changes.
 * @param always what the page says of itself, whatever it says: for previews
 */
export function start(settings: Settings, always: PageSettings = {}): void {
  const { pageMap, origin, texts } = settings;
  if (!pageMap) return;
  let pageSettings = { ...readPageSettings(document.currentScript as HTMLScriptElement | null), ...always };
  const holding = hold(pageMap);
  const safely = (work: () => void) => {
    quietly(work, holding.release);
  };
  const answers = new Map<string, Answered | null>();
  let requested = new Set<string>();
  /** Undefined until it is known; null when it cannot be. */
  let visit: Visit | null | undefined;
  let isVisitRequested = false;
  /** What each area said last, so that a change can be said aloud. */
  let announced = new WeakMap<Element, string>();

  /** What each area was last made into; taken out when the page touches it. */
  let settled = new WeakMap<Element, { readonly by: Answered | null; readonly key: string }>();

  /** Areas that are not known yet, or wait for their turn; all that the page shows. */
  let left: readonly Area[] = [];
  let areas: readonly Area[] = [];
  let partsOf = partsOnPage(pageMap);
  let isTurnDue = false;

  const applyAll = () => {
    for (const root of holding.reach()) {
      watching.alsoIn(root);
      const around = areaOf(root, pageMap);
      if (around) settled.delete(around);
    }
    if (document.readyState === 'loading') {
      // Nothing has been asked yet.
      holding.below(findAll(document, areasIn(pageMap), pageMap)[0]);
      return;
    }
    clearCopies(findAll(document, `[${STAND_IN}]`, pageMap));
    partsOf = partsOnPage(pageMap);
    areas = [...areasOnPage(pageMap, partsOf)];
    // While nothing is known, all that is seen is held.
    if (answers.size || !areas.length) applyKnown();
    else holding.below(areas[0]?.element);
    soon(() => {
      safely(() => {
        askFor(areas.filter((area) => !requested.has(key(area))));
      });
    });
  };

  const applyKnown = () => {
    left = areas;
    applyLeft(isTurnDue);
  };

  /** Goes on until time is up. What has been seen is put right at once; what is still held can wait for its turn. */
  const applyLeft = (isLate = false) => {
    const begun = performance.now();
    left = left.filter((area) => {
      const by = answers.get(key(area));
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
    if (!left.some((area) => answers.has(key(area)))) applyOthers();
    else if (!isTurnDue) {
      isTurnDue = true;
      soon(() => {
        isTurnDue = false;
        safely(applyLeft);
      });
    }
  };

  const applyOthers = () => {
    showOthers(areas, pageMap, partsOf);
    applyTogether(pageMap);
    if (visit !== undefined) applyVisit(visit, pageMap);
    if (findAll(document, STRUCTURED, pageMap).length > 0) void later(updateMachineData);
  };

  /** Whether something else stands than what machines were told last. */
  let isNew = true;
  const updateMachineData = ({ updateStructuredData: tellStructured }: Later) => {
    tellStructured({
      areas: areas.flatMap((area) => {
        const decision = decisionOf(area);
        return decision ? [[area, decision] as const] : [];
      }),
      decisionsAt: (path) => {
        const of = (surface: Surface) => answers.get(key({ path, surface }));
        const answered = of('product') ?? of('listing');
        const area = areas.find((candidate) => candidate.path === path);
        const chosen = area && chosenVariant(area, pageMap);
        return answered ? (sku) => decisionIn(answered, answered.variants.has(sku ?? '') ? sku : chosen) : undefined;
      },
      isNew,
    });
    isNew = false;
  };
  const later = (work: (module: Later) => void) =>
    (import(`${origin}/later.js`) as Promise<Later>).then(
      (module) => {
        quietly(() => {
          work(module);
        });
      },
      () => undefined,
    );
  const decisionOf = (area: Area) => {
    const answered = answers.get(key(area));
    return answered && decisionIn(answered, area.surface === 'listing' ? undefined : chosenVariant(area, pageMap));
  };

  const reapply = (touched: Touched = []) => {
    safely(() => {
      if (touched === null || answers.size === 0) settled = new WeakMap();
      else for (const area of new Set(touched.map((node) => areaOf(node, pageMap)))) if (area) settled.delete(area);
      applyAll();
    });
  };
  const watching = watch(pageMap, reapply, (event) => {
    quietly(() => {
      rememberChosenVariant(event, pageMap);
    });
  });

  const loadDialogs = (): Promise<Dialogs> => import(`${origin}/dialogs.js`);
  const openDialog = (area: Area, control: SharedDecision['control'], like: HTMLElement) => {
    const title = area.parts(pageMap.title)[0]?.textContent ?? '';
    const decisions = answers.get(key(area))?.variants;
    const [only, ...others] = decisions?.keys() ?? [];
    const { path } = area;
    const pressed = {
      ...control,
      ...pageSettings,
      origin,
      path,
      get variantId() {
        return chosenVariant(area, pageMap) ?? (others.length ? undefined : only);
      },
      title,
      like,
      decisions,
      changed: startOver,
    };
    void loadDialogs()
      .then(({ open }) => open(pressed))
      .catch(() => false)
      .then((isOpen) => {
        if (!isOpen && like instanceof HTMLAnchorElement) location.assign(like.href);
      });
  };

  const applyTo = (area: Area, answered: Answered | null) => {
    const decision = answered && decisionOf(area);
    if (!decision) {
      leave(area, pageMap);
      return;
    }
    const { path, surface } = area;
    apply(area, pageMap, decision, {
      origin,
      path,
      surface,
      isShut: visit ? !(visit.cart.open && visit.checkout.open && visit.checkout.submitOrder.show) : false,
      variantId: surface === 'listing' ? undefined : chosenVariant(area, pageMap),
      texts: textsIn(texts, document.documentElement.lang),
      openDialog: (control, like) => {
        openDialog(area, control, like);
      },
    });
    const words = `${area.path} ${wordsFor(decision.control)}`;
    const before = announced.get(area.element);
    announced.set(area.element, words);
    // A page that shows another product says so itself.
    if (before !== undefined && before !== words && before.startsWith(`${area.path} `))
      announce(wordsFor(decision.control));
  };

  const askFor = (areas: readonly Area[]) => {
    if (areas.length === 0 && (isVisitRequested || !concernsVisit(pageMap))) return;
    isVisitRequested = true;
    for (const area of areas) requested.add(key(area));
    const current = requested;
    const isStill = () => current === requested;
    const giveUp = setTimeout(() => {
      if (isStill()) showOriginals(areas);
    }, PATIENCE_MS);
    const learn = ({ products, ttlMs, ...answer }: Answer) => {
      if (!isStill()) return;
      for (const area of areas) answers.set(key(area), products.get(key(area)) ?? null);
      visit = answer.visit;
      isNew = true;
      soon(() => {
        safely(applyKnown);
      });
      if (ttlMs < Infinity) askAgainIn(Math.max(ttlMs, 1000));
    };
    const fail = () => {
      if (!isStill()) return;
      showOriginals(areas);
      askAgainIn(AGAIN_MS);
    };
    soon(() => {
      void ask(settings, pageSettings, areas, surfaceOf(pageMap))
        .finally(() => {
          clearTimeout(giveUp);
        })
        .then(learn, fail);
    });
  };

  /** Shows the shop's own controls where nothing is known; what was known stays. */
  const showOriginals = (areas: readonly Area[]) => {
    safely(() => {
      for (const area of areas) if (!answers.has(key(area))) answers.set(key(area), null);
      visit ??= null;
      holding.giveUp();
      applyAll();
    });
  };

  /** Asks for all that the page shows, which stays as it is meanwhile. */
  const askAgain = () => {
    safely(() => {
      isVisitRequested = false;
      askFor([...areasOnPage(pageMap)]);
    });
  };
  const askAgainIn = earliest(askAgain);
  /** Forgets all answers: what they said may not be true for this page any more. */
  const startOver = () => {
    answers.clear();
    requested = new Set();
    visit = undefined;
    isVisitRequested = false;
    announced = new WeakMap();
    reapply(null);
    // What was shown is held again.
    safely(applyKnown);
  };

  document.addEventListener('DOMContentLoaded', () => {
    reapply();
  });
  addEventListener('load', () => {
    quietly(() => {
      // A quote sheet that was begun is at hand on every page.
      if (localStorage['understudy-sheet'])
        loadDialogs()
          .then(({ marker }) => {
            marker({ ...pageSettings, origin });
          })
          .catch(() => undefined);
    });
    if (isProductPage(pageMap))
      setTimeout(() => {
        void later(({ reportMisses }) => {
          reportMisses(origin, pageMap, [...areasOnPage(pageMap)]);
        });
      }, DRAWN_MS);
  });
  addEventListener('pageshow', ({ persisted }) => {
    if (persisted) startOver();
  });
  Object.assign(globalThis, {
    understudy: {
      /** For pages that change who is visiting, or the cart, without being loaded again. */
      refresh: (now: PageSettings = {}) => {
        pageSettings = { ...pageSettings, ...now, ...always };
        startOver();
      },
    },
  });
  // In a page's head there is nothing to look at yet.
  if (document.body as HTMLElement | null) reapply();
}
