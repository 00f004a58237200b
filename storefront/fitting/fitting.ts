/** Fits our elements to the shop's design; loaded if a rule changes a control or a price. */
export { fit } from './fit.ts';
export { hideWords, showWords } from './shownWords.ts';
