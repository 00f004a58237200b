import type { Draft } from './reading/readPage.ts';

/** A page that changes is read again so soon. */
const AGAIN_MS = 300;

interface Reads {
  readonly read: (before: Draft) => Draft;
  readonly current: () => Draft;
  /** Told of what a later reading gave. */
  readonly changed: (map: Draft) => void;
}

/** Pages that are drawn late are read again as they change, as long as nobody has changed what the first reading gave. */
export class LateReading {
  private taken: { readonly before: Draft; readonly map: Draft } | null = null;
  private isSoon = false;

  constructor(private readonly reads: Reads) {}

  /** @param before what was known before the page was read, and what it gave */
  begin(before: Draft, map: Draft): void {
    this.taken = { before, map };
  }

  /** The page has changed. */
  soon(): void {
    if (this.isSoon || this.taken?.map !== this.reads.current()) return;
    this.isSoon = true;
    setTimeout(this.again, AGAIN_MS);
  }

  private again = (): void => {
    this.isSoon = false;
    const { taken, reads } = this;
    if (taken?.map !== reads.current()) return;
    // What was found stays: later readings only add to it.
    const map = { ...reads.read(taken.before), ...taken.map };
    if (JSON.stringify(map) === JSON.stringify(taken.map)) return;
    this.taken = { ...taken, map };
    reads.changed(map);
  };
}
