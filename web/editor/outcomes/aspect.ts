import type { Goods } from '../../goods/useGoods.ts';

/** One aspect, or one note, being changed. */
export interface AspectProps<T> {
  readonly value: T | undefined;
  readonly goods: Goods;
  /** Undefined where nothing is left to say of it. */
  readonly onChange: (value: T | undefined) => void;
}

/** The entries that are there. */
export function given<T extends object>(entries: T): T {
  return Object.fromEntries(Object.entries(entries).filter(([, value]) => value !== undefined && value !== null)) as T;
}

/** No names: a constant, since a new list at every render would discard the text being typed. */
export const NONE: string[] = [];
