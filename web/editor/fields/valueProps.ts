import type { Goods } from '../../goods/useGoods.ts';

/** Properties of a value's fields. */
export interface ValueProps {
  /** Null while nothing is chosen. */
  readonly value: unknown;
  readonly goods: Goods;
  /** Called with null while the input is incomplete. */
  readonly onChange: (value: unknown) => void;
}
