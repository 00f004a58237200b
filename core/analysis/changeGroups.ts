import type { VisibleChange } from './outcomeDiffer.ts';
import type { Columns } from './columns.ts';
import { RowSet } from './rowSet.ts';

/** Changes that are alike: the same control before, the same after, in the same aspects. */
export interface ChangeGroup extends VisibleChange {
  /** Tells it from the others, and is the same whenever the same is compared. */
  readonly key: string;
  /** Number of variants that change this way for anybody; of products on a listing. */
  readonly count: number;
  /** For which of the visitors. */
  readonly visitors: readonly number[];
}

export const groupKey = ({ before, after, aspects }: VisibleChange): string => JSON.stringify([before, after, aspects]);

/** Every change, in the order of the goods: of each, the row, the visitor, the moment and the group, by their places. */
export interface ChangeList {
  readonly row: Uint32Array;
  readonly visitor: Uint8Array;
  readonly moment: Uint16Array;
  readonly group: Uint32Array;
}

interface Group {
  readonly place: number;
  readonly outcome: VisibleChange;
  readonly rows: RowSet;
  readonly byVisitor: (RowSet | undefined)[];
}

/** Gathers changes into groups. A change is there once, whenever it is seen. */
export class ChangeGroups {
  private readonly byKey = new Map<string, Group>();
  private readonly byOutcome = new Map<VisibleChange, Group>();
  private readonly rows: RowSet;
  private found = listOf(1024);
  private count = 0;

  constructor(private readonly columns: Pick<Columns, 'rows' | 'words'>) {
    this.rows = new RowSet(columns.words);
  }

  /** Whether it was not there yet. `moment` is a place in the caller's list of moments. */
  add(outcome: VisibleChange, row: number, visitor: number, moment: number): boolean {
    const group = this.groupOf(outcome);
    const rowsOfVisitor = (group.byVisitor[visitor] ??= new RowSet(this.columns.words));
    if (!rowsOfVisitor.add(row)) return false;
    group.rows.add(row);
    this.rows.add(row);
    if (this.count === this.found.row.length) this.found = listOf(2 * this.count, this.found);
    this.found.row[this.count] = row;
    this.found.visitor[this.count] = visitor;
    this.found.moment[this.count] = moment;
    this.found.group[this.count] = group.place;
    this.count += 1;
    return true;
  }

  private groupOf(outcome: VisibleChange): Group {
    const known = this.byOutcome.get(outcome);
    if (known) return known;
    const key = groupKey(outcome);
    const group = this.byKey.get(key) ?? {
      place: this.byKey.size,
      outcome,
      rows: new RowSet(this.columns.words),
      byVisitor: [],
    };
    this.byKey.set(key, group);
    this.byOutcome.set(outcome, group);
    return group;
  }

  /** Number of variants that change for anybody; of products on a listing. */
  get changed(): number {
    return this.rows.size;
  }

  /** The key and the aspects of every group, by its place. */
  get kinds(): { readonly key: string; readonly aspects: VisibleChange['aspects'] }[] {
    return [...this.byKey].map(
      ([
        key,
        {
          outcome: { aspects },
        },
      ]) => ({ key, aspects }),
    );
  }

  /** The groups, the largest first. */
  all(): ChangeGroup[] {
    return [...this.byKey]
      .map(([key, { outcome, rows, byVisitor }]) => ({
        key,
        ...outcome,
        count: rows.size,
        visitors: byVisitor.flatMap((rowsOfVisitor, visitor) => (rowsOfVisitor ? [visitor] : [])),
      }))
      .sort((a, b) => b.count - a.count || (a.key < b.key ? -1 : 1));
  }

  /** Every change, in the order of the goods. */
  changes(): ChangeList {
    const { row, visitor, moment, group } = this.found;
    // Sorted by counting: of each row, where its changes begin.
    const next = new Uint32Array(this.columns.rows + 1);
    for (let index = 0; index < this.count; index++) next[row[index]! + 1]! += 1;
    for (let index = 0; index < this.columns.rows; index++) next[index + 1]! += next[index]!;
    const sorted = listOf(this.count);
    for (let index = 0; index < this.count; index++) {
      const place = next[row[index]!]!;
      next[row[index]!] = place + 1;
      sorted.row[place] = row[index]!;
      sorted.visitor[place] = visitor[index]!;
      sorted.moment[place] = moment[index]!;
      sorted.group[place] = group[index]!;
    }
    return sorted;
  }
}

/** Copies a list into one of this capacity. */
function listOf(length: number, before?: ChangeList): ChangeList {
  const list = {
    row: new Uint32Array(length),
    visitor: new Uint8Array(length),
    moment: new Uint16Array(length),
    group: new Uint32Array(length),
  };
  if (before) for (const name of ['row', 'visitor', 'moment', 'group'] as const) list[name].set(before[name]);
  return list;
}
