import type { Draft } from './reading/reading.ts';

/** A page that changes is read again so soon; one that takes long to read, after so many times that. */
const AGAIN_MS = 300;
const TIMES = 4;

interface Reads {
  readonly read: (before: Draft) => Draft;
  readonly current: () => Draft;
  /** Called with the result of a later reading. */
  readonly changed: (map: Draft) => void;
}

/** Pages that are drawn late are read again as they change, as long as nobody has changed what the first reading gave. */
export class LateReading {
  private taken: { readonly before: Draft; readonly map: Draft } | null = null;
  private isSoon = false;
  /** ms that the last reading took. */
  private took = 0;

  constructor(private readonly reads: Reads) {}

  /** @param before what was known before the page was read, and what it gave */
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
