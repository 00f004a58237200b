import { EMPTY_RULEBOOK, type Rulebook } from './rulebook.ts';

/** Brings a stored rulebook of one version to the next. */
export interface Upgrade {
  readonly from: number;
  /** Name of the upgrade: `SplitPriceFromControl`. */
  readonly deed: string;
  readonly up: (document: Readonly<Record<string, unknown>>) => Record<string, unknown>;
}

/** Every version below the current has one, in order; the first version of the format is 1. */
export const UPGRADES: readonly Upgrade[] = [];

/**
 * Upgrades a stored rulebook to the current version; one of this version is returned unchanged.
 * @throws {RangeError} for a version without an upgrade, such as a later one
 */
export function upgraded(stored: unknown, upgrades: readonly Upgrade[] = UPGRADES, current = CURRENT): Rulebook {
  let document = stored as { readonly version: number } & Record<string, unknown>;
  while (document.version !== current) {
    const upgrade = upgrades.find(({ from }) => from === document.version);
    if (!upgrade) {
      throw new RangeError(
        `a rulebook of version ${document.version} cannot be read: this software knows versions up to ${current}`,
      );
    }
    document = { ...upgrade.up(document), version: document.version + 1 };
  }
  return document as unknown as Rulebook;
}

const CURRENT: number = EMPTY_RULEBOOK.version;
