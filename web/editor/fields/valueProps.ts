import type { Goods } from '../../goods/useGoods.ts';

/** What the fields of a value are given. */
export interface ValueProps {
  /** Null while nothing is chosen. */
  readonly value: unknown;
  readonly goods: Goods;
  /** Told null when what is there is no value yet. */
  readonly onChange: (value: unknown) => void;
}
