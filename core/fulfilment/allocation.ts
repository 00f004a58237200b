/** A reservation that waits for units, in the order in which it was made. */
export interface Waiting {
  readonly id: string;
  readonly units: number;
}

/**
 * Allocates units first come, first served. Nobody gets only part of a reservation and nobody is passed over: if the next
 * in turn needs more than is left, allocation ends. People in `first` come before all others.
 * @param units how many there are
 * @returns the ids that are served, and the units that are left
 */
export function allocate(
  units: number,
  waiting: readonly Waiting[],
  first: ReadonlySet<string> = new Set(),
): { readonly served: readonly string[]; readonly left: number } {
  const inTurn = [...waiting.filter(({ id }) => first.has(id)), ...waiting.filter(({ id }) => !first.has(id))];
  const served: string[] = [];
  let left = units;
  for (const { id, units: wanted } of inTurn) {
    if (wanted > left) break;
    left -= wanted;
    served.push(id);
  }
  return { served, left };
}
