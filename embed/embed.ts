import { apply, leave } from './apply.ts';
import { chosenVariant, findAreas, type Area } from './areas.ts';
import { ask, key, type Answered } from './ask.ts';
import { hold } from './hold.ts';
import { pageSays, type Settings } from './settings.ts';

/** After this, a page that has no answer shows its own controls, and asks again. The guard refuses meanwhile. */
const PATIENCE_MS = 1500;
const AGAIN_MS = 5000;
/** A timer longer than this is set in steps. */
const LONGEST_TIMER_MS = 12 * 60 * 60 * 1000;

/** Runs on pages that are not ours: whatever goes wrong, they must not notice, and keep their own controls. */
function quietly(work: () => void, instead?: () => void): void {
  try {
    work();
  } catch {
    instead?.();
  }
}

function start(settings: Settings): void {
  const { pageMap } = settings;
  if (!pageMap) return;
  const says = pageSays(document.currentScript as HTMLScriptElement | null);
  const holding = hold(pageMap);
  const answers = new Map<string, Answered | null>();
  const asked = new Set<string>();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let due = Infinity;

  const applyAll = () => {
    const areas = findAreas(pageMap);
    for (const area of areas) applyTo(area);
    const unasked = areas.filter((area) => !asked.has(key(area)));
    if (unasked.length > 0 && document.readyState !== 'loading') request(unasked);
  };

  const reapply = () => {
    quietly(applyAll, holding.release);
  };

  const applyTo = (area: Area) => {
    const answered = answers.get(key(area));
    if (answered === undefined) return;
    const chosen = area.surface === 'product' ? chosenVariant(area.element, pageMap) : undefined;
    const decision =
      answered?.whole ?? answered?.variants.get(chosen ?? '') ?? answered?.variants.values().next().value ?? null;
    const shown = { origin: settings.origin, path: area.path, variantId: chosen };
    if (decision) apply(area.element, pageMap, decision, shown);
    else leave(area.element, pageMap);
  };

  const request = (areas: readonly Area[]) => {
    for (const area of areas) asked.add(key(area));
    const giveUp = setTimeout(holding.release, PATIENCE_MS);
    ask(settings, says, areas).then(
      ({ products, stands }) => {
        clearTimeout(giveUp);
        for (const area of areas) answers.set(key(area), products.get(key(area)) ?? null);
        reapply();
        if (stands < Infinity) askAgainIn(Math.max(stands, 1000));
      },
      () => {
        clearTimeout(giveUp);
        holding.release();
        askAgainIn(AGAIN_MS);
      },
    );
  };

  /** The earliest of what is waited for counts. */
  const askAgainIn = (delay: number) => {
    const at = Date.now() + delay;
    if (timer !== undefined && due <= at) return;
    clearTimeout(timer);
    due = at;
    timer = setTimeout(
      () => {
        timer = undefined;
        if (delay > LONGEST_TIMER_MS) askAgainIn(delay - LONGEST_TIMER_MS);
        else askAgain();
      },
      Math.min(delay, LONGEST_TIMER_MS),
    );
  };

  const askAgain = () => {
    quietly(() => {
      const areas = findAreas(pageMap);
      if (areas.length > 0) request(areas);
    }, holding.release);
  };

  new MutationObserver(reapply).observe(document, {
    childList: true,
    subtree: true,
    characterData: true,
    attributes: true,
    attributeFilter: ['value', 'checked', 'selected', 'href', 'class'],
  });
  for (const event of ['change', 'input']) document.addEventListener(event, reapply, true);
  document.addEventListener('DOMContentLoaded', reapply);
  addEventListener('pageshow', ({ persisted }) => {
    if (persisted) askAgain();
  });
  reapply();
}

quietly(() => {
  start('__UNDERSTUDY_SETTINGS__' as unknown as Settings);
});
