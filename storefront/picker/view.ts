import type { Part } from './parts.ts';
import type { Proving } from './proof.tsx';
import type { Draft, PageKind, Reading } from './reading/reading.ts';
import type { Proposal } from './selectors.ts';

/** State shown by the panel. */
export interface View {
  readonly map: Draft;
  /** The part that is open. */
  readonly open: Part | null;
  /** Whether the next press on the page chooses. */
  readonly isPicking: boolean;
  readonly ways: readonly Proposal[];
  readonly kept: { readonly state: 'saving' | 'kept' | 'started' | 'incomplete' | 'failed'; readonly why?: string };
  readonly side: 'left' | 'right';
  readonly canUndo: boolean;
  /** Other pages with their documents; null while a page cannot be read. */
  readonly others: readonly { readonly path: string; readonly page: Document | null }[];
  readonly proving: Proving | null;
  /** Reasons for the proposed parts. */
  readonly why: Reading['why'];
  /** Kinds recognised on this page, and the draft before it was read; null until then. */
  readonly read: { readonly kinds: readonly PageKind[]; readonly before: Draft } | null;
  /** Kinds of pages that were read so far. */
  readonly seen: readonly PageKind[];
}
