import type { Join } from '../model/join.ts';

/** Topic of a phrase. */
export type About = 'products' | 'people' | 'time' | 'outcome';

/** A piece of a rule's sentence. Phrases and groups know their place in the rule (RFC 6901), so that they can be edited there. */
export type Segment =
  | { readonly kind: 'words'; readonly text: string }
  | {
      readonly kind: 'phrase';
      readonly about: About;
      readonly text: string;
      readonly pointer: string;
      /** Marks a part that is still missing. */
      readonly lacking?: true;
    }
  | { readonly kind: 'group'; readonly join: Join; readonly pointer: string; readonly members: readonly Segment[][] };

/** Fixed words, which the editor cannot change. */
export const words = (text: string): Segment => ({ kind: 'words', text });
