import { LRUCache } from 'lru-cache';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import { EncodedJson } from '../http/encodedJson.ts';

/** An answer as it is sent, with its expiry. */
export interface Answer {
  readonly body: EncodedJson<DecisionsAnswer>;
  /** Epoch ms; Infinity while nothing that is known will change it. */
  readonly until: number;
}

interface HeldAnswer extends Answer {
  /** When it was made, epoch ms. */
  readonly from: number;
  readonly facts: readonly object[];
}

const MOST_BYTES = 64_000_000;

/**
 * Answers to shoppers, each made once for all who ask the same and are alike in what rules look at. One stands as long as
 * the very facts that it was made of, held in memory, and until the moment at which time alone changes it.
 */
export class HeldAnswers {
  private readonly held = new LRUCache<string, HeldAnswer>({
    maxSize: MOST_BYTES,
    // Also compressed, at most as large again.
    sizeCalculation: ({ body }, key) => key.length + 2 * body.bytes.length,
  });

  /**
   * @param key the question, and who is alike in it
   * @param facts objects that are replaced whenever their content changes
   * @param moment epoch ms
   */
  for(key: string, facts: readonly object[], moment: number, make: () => DecisionsAnswer): Answer {
    const known = this.held.get(key);
    if (known && known.from <= moment && moment < known.until && areSame(known.facts, facts)) return known;
    const made = { ...encoded(make()), from: moment, facts };
    this.held.set(key, made);
    return made;
  }
}

/** Makes an answer ready to be sent: its tag tells whether another says the same, whenever it was made. */
export function encoded(answer: DecisionsAnswer): Answer {
  const { validUntil } = answer;
  return {
    body: new EncodedJson(answer, (whole) => ({ ...whole, at: null })),
    until: validUntil === null ? Infinity : Date.parse(validUntil),
  };
}

const areSame = (some: readonly object[], others: readonly object[]) =>
  some.length === others.length && some.every((one, index) => one === others[index]);
