import type { z } from 'zod';
import type { postEvents } from '#core/contract/countCalls.ts';
import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { SharedDecision } from '#core/engine/decision.ts';
import type { Area } from './areas.ts';
import { STAND_IN } from './marks.ts';
import { findAll } from './roots.ts';

/** Control shown in an area now. */
export interface Shown {
  /** Null for the product as a whole. */
  readonly variant: string | null;
  readonly decision: Pick<SharedDecision, 'control' | 'reasons'>;
}

interface Page {
  readonly origin: string;
  readonly visitor: string | undefined;
  readonly pageMap: PageMap;
  readonly shownIn: (area: Area) => Shown | undefined;
}

type Batch = z.infer<(typeof postEvents)['body']>;
type Told = Batch['events'][number];

/** Share of a control that must be in view, and for how many ms, to count as seen. */
const PART_IN_VIEW = 0.5;
const SEEN_MS = 1000;
const MOST = 500;

/** Events of this page, each once, with their time (epoch ms). */
const told = new Map<string, Omit<Told, 'ago'> & { readonly at: number }>();
/** Callbacks by observed element. */
const watched = new WeakMap<Element, () => void>();
let page: Page | undefined;
let event: Told['event'] = 'seen';

/**
 * Watches which controls come into view and which are pressed, and tells it when the page is left or hidden: once, without
 * a cookie, and not where the browser asks not to be tracked.
 */
export function countPage(now: Page, areas: readonly Area[]): void {
  const { doNotTrack, globalPrivacyControl } = navigator as Navigator & { globalPrivacyControl?: boolean };
  if (doNotTrack === '1' || globalPrivacyControl) return;
  if (!page) listen();
  page = now;
  for (const area of areas)
    for (const element of [
      ...area.parts(now.pageMap.control),
      ...findAll(area.element, `[${STAND_IN}]`, now.pageMap),
    ]) {
      if (!watched.has(element)) views.observe(element);
      watched.set(element, () => {
        note(area);
      });
    }
}

function note(area: Area): void {
  const shown = page?.shownIn(area);
  if (!shown) return;
  const { variant, decision } = shown;
  const { path, surface } = area;
  const control = decision.control.kind;
  const key = [event, surface, path, variant, control].join(' ');
  if (told.has(key)) return;
  const rule = decision.reasons.control[0] ?? null;
  told.set(key, { event, path, variant, surface, control, rule, at: Date.now() });
}

function listen(): void {
  addEventListener('pagehide', tell);
  document.addEventListener('visibilitychange', () => {
    if (document.visibilityState === 'hidden') tell();
  });
}

/** Counts a press on what is watched. Told of it, since presses on stand-ins are kept from listeners. */
export function countPress(press: Event): void {
  event = 'pressed';
  for (const place of press.composedPath()) if (place instanceof Element) watched.get(place)?.();
  event = 'seen';
}

function tell(): void {
  if (!page || told.size === 0) return;
  const now = Date.now();
  const events = [...told.values()]
    .slice(0, MOST)
    .map(({ at, ...one }) => ({ ...one, ago: Math.floor((now - at) / 1000) }));
  told.clear();
  const batch: Batch = { id: crypto.randomUUID(), visitor: page.visitor, events };
  navigator.sendBeacon(`${page.origin}/v1/events`, JSON.stringify(batch));
}

const timers = new WeakMap<Element, ReturnType<typeof setTimeout>>();
const views = new IntersectionObserver(
  (entries) => {
    for (const { target, isIntersecting } of entries) {
      clearTimeout(timers.get(target));
      if (isIntersecting)
        timers.set(
          target,
          setTimeout(() => watched.get(target)?.(), SEEN_MS),
        );
    }
  },
  { threshold: PART_IN_VIEW },
);
