/** The independent parts of a decision about goods, in the order in which they are shown. */
export const PRODUCT_ASPECTS = [
  'control',
  'express',
  'price',
  'notes',
  'limits',
  'visibility',
  'afterOrder',
  'style',
] as const;
export type ProductAspect = (typeof PRODUCT_ASPECTS)[number];

/** Those about a visit. */
export const VISIT_ASPECTS = ['cart', 'checkout'] as const;

/** All that a rule can speak to. */
export const ASPECTS = [...PRODUCT_ASPECTS, ...VISIT_ASPECTS] as const;
export type Aspect = (typeof ASPECTS)[number];

/** What a rule that looks at the page's address may speak to: what may be bought cannot hang on an address. */
export const PAGE_ASPECTS: readonly Aspect[] = ['visibility', 'notes', 'style'];

/** The aspects that gather from every rule that counts, instead of going to the first. */
export const GATHERED = ['notes', 'style'] as const satisfies readonly ProductAspect[];
export type Gathered = (typeof GATHERED)[number];

/** Those that stand only with the control that their own rule names, where it names one. */
export const WITH_CONTROL = ['notes', 'afterOrder'] as const satisfies readonly ProductAspect[];

/** Several aspects as the bits of a number. */
export type AspectSet = number;
export const bitOf = (aspect: Aspect): AspectSet => 1 << ASPECTS.indexOf(aspect);
export const setOf = (aspects: readonly Aspect[]): AspectSet => aspects.reduce((set, aspect) => set | bitOf(aspect), 0);

export const isGathered = (aspect: Aspect): aspect is Gathered => (GATHERED as readonly string[]).includes(aspect);
