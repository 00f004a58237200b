/** A reason for or against something, told by looking: how much it weighs, and how it is said to the owner. */
export interface Sign<Candidate> {
  readonly weight: number;
  /** Absent for signs not worth showing: those against, which were overruled. */
  readonly reason?: string;
  readonly holds: (candidate: Candidate) => boolean;
}

export interface Scored<Candidate> {
  readonly candidate: Candidate;
  readonly score: number;
  /** Reasons for it, the strongest first. */
  readonly reasons: readonly string[];
}

/** Ranks candidates by their signs, for less against, the best first; equals keep their order. */
export function ranked<Candidate>(
  candidates: readonly Candidate[],
  signs: readonly Sign<Candidate>[],
): Scored<Candidate>[] {
  return candidates
    .map((candidate) => {
      const held = signs.filter(({ holds }) => holds(candidate));
      const score = held.reduce((sum, { weight }) => sum + weight, 0);
      const reasons = held
        .toSorted((a, b) => b.weight - a.weight)
        .flatMap(({ weight, reason }) => (weight > 0 && reason !== undefined ? [reason] : []));
      return { candidate, score, reasons };
    })
    .sort((a, b) => b.score - a.score);
}
