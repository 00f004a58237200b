import type { Page } from '@playwright/test';

/** Controls painted since the page started, and its layout shift. */
export interface Watched {
  /** Words of every control and stand-in that could be seen in any frame, in the order of first sight. */
  readonly seen: readonly string[];
  /** Cumulative layout shift, without what followed a press. */
  readonly shift: number;
  /** Tasks of over 50 ms, in ms. */
  readonly longTasks: readonly number[];
}

/** From the next page on, records at every frame which controls within something can be seen, in shadow roots as well. */
export async function watch(page: Page, controls: string, within = 'body'): Promise<void> {
  await page.addInitScript(
    ({ selector, within }) => {
      const seen = new Set<string>();
      const longTasks: number[] = [];
      let shift = 0;
      const observe = (type: string, each: (entry: PerformanceEntry) => void) => {
        new PerformanceObserver((list) => {
          for (const entry of list.getEntries()) each(entry);
        }).observe({ type, buffered: true });
      };
      observe('layout-shift', (entry) => {
        const { value, hadRecentInput } = entry as unknown as { value: number; hadRecentInput: boolean };
        if (!hadRecentInput) shift += value;
      });
      observe('longtask', ({ duration }) => longTasks.push(duration));
      const all = (tree: Document | ShadowRoot): Element[] => [
        ...tree.querySelectorAll(selector),
        ...[...tree.querySelectorAll('*')].flatMap(({ shadowRoot }) => (shadowRoot ? all(shadowRoot) : [])),
      ];
      const isWithin = (element: Element): boolean => {
        const root = element.getRootNode();
        return element.closest(within) !== null || (root instanceof ShadowRoot && isWithin(root.host));
      };
      const look = () => {
        for (const control of all(document)) {
          if (isWithin(control) && control.checkVisibility({ visibilityProperty: true }))
            seen.add(control.textContent.trim());
        }
        requestAnimationFrame(look);
      };
      look();
      Object.assign(globalThis, { watched: () => ({ seen: [...seen], shift, longTasks }) });
    },
    { selector: controls, within },
  );
}

/** Two frames from now, when what was done has been drawn. */
export const drawn = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        requestAnimationFrame(() => {
          requestAnimationFrame(() => {
            resolve();
          });
        });
      }),
  );

/** Observations so far, including the current frame. */
export async function watched(page: Page): Promise<Watched> {
  await drawn(page);
  return page.evaluate(() => (globalThis as unknown as { watched: () => Watched }).watched());
}
