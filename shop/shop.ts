import type { CardPayments } from './cardPayments.ts';
import type { Catalog } from './catalog.ts';
import type { Dressing } from './dressings/dressing.ts';
import type { Customer } from './people.ts';
import type { Understudy } from '../client/understudy.ts';

/** All that the sample shop is made of. */
export interface Shop {
  readonly catalog: Catalog;
  readonly customers: readonly Customer[];
  readonly understudy: Understudy;
  /** Address from which browsers load its script. */
  readonly understudyUrl: string;
  readonly cards: CardPayments;
  readonly dressing: Dressing;
  /** Address of the shop. */
  readonly site: string;
}
