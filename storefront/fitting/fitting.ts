/** What has our parts of a page look as the shop's own do; loaded where a rule changes a control or a price. */
export { fit } from './fit.ts';
export { hideWords, showWords } from './shownWords.ts';
