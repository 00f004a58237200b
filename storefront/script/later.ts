/** What pages load after what shoppers see is right: what only machines read, and what is reported to the owner. */
export { hideAmounts } from './amounts.ts';
export { limit } from './limits.ts';
export { onIdle } from './idle.ts';
export { updateStructuredData } from './structured.ts';
