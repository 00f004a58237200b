/** What pages load after what shoppers see is right: what only machines read, and what the owner is told. */
export { reportMisses } from './misses.ts';
export { updateStructuredData as tellStructured } from './structured.ts';
