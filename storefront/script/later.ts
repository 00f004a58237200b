/** Code that pages load once shoppers see the right controls: structured data, and reports to the owner. */
export { hideAmounts } from './amounts.ts';
export { limit } from './limits.ts';
export { onIdle } from './idle.ts';
export { updateStructuredData } from './structured.ts';
