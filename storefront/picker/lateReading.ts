import type { Draft } from './reading/reading.ts';

/** Delay before a changed page is read again, and its factor for pages that are slow to read. */
const AGAIN_MS = 300;
const TIMES = 4;

interface Reads {
  readonly read: (before: Draft) => Draft;
  readonly current: () => Draft;
  /** Called with the result of a later reading. */
  readonly changed: (map: Draft) => void;
}

/** Rereads pages that are drawn late, until somebody changes the first proposal. */
export class LateReading {
  private taken: { readonly before: Draft; readonly map: Draft } | null = null;
  private isSoon = false;
  /** ms that the last reading took. */
  private took = 0;

  constructor(private readonly reads: Reads) {}

  /** @param before the map before the reading, and the proposal */
  begin(before: Draft, map: Draft): void {
    this.taken = { before, map };
  }

  /** The page has changed. */
  soon(): void {
    if (this.isSoon || this.taken?.map !== this.reads.current()) return;
    this.isSoon = true;
    setTimeout(this.again, Math.max(AGAIN_MS, TIMES * this.took));
  }

  private again = (): void => {
    this.isSoon = false;
    const { taken, reads } = this;
    if (taken?.map !== reads.current()) return;
    // Later readings only add to the findings.
    const begun = performance.now();
    const map = { ...reads.read(taken.before), ...taken.map };
    this.took = performance.now() - begun;
    if (JSON.stringify(map) === JSON.stringify(taken.map)) return;
    this.taken = { ...taken, map };
    reads.changed(map);
  };
}
