/** The independent parts of a decision about goods, in the order in which they are shown. */
export const ASPECTS = ['control', 'express', 'price', 'notes', 'limits', 'visibility', 'afterOrder', 'style'] as const;
export type Aspect = (typeof ASPECTS)[number];

/** The aspects that this version's rules can speak to. */
export const SPOKEN_ASPECTS = ['control', 'express', 'price'] as const satisfies readonly Aspect[];
export type SpokenAspect = (typeof SPOKEN_ASPECTS)[number];
