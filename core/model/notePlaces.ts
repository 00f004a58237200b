/** Places for notes near the control. */
export const NOTE_PLACES = [
  'aboveControl',
  'belowControl',
  'belowPrice',
  'belowStock',
  'inDescription',
  'endOfBuyArea',
  'badge',
] as const;
export type NotePlace = (typeof NOTE_PLACES)[number];

/** Places as phrases of a sentence. */
export const NOTE_PLACE_NAMES: Readonly<Record<NotePlace, string>> = {
  aboveControl: 'above the control',
  belowControl: 'below the control',
  belowPrice: 'below the price',
  belowStock: 'below the stock line',
  inDescription: 'in the description',
  endOfBuyArea: 'at the end of the buying area',
  badge: 'as a badge',
};
