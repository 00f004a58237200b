import { resolve } from 'node:path';

/** Where the program of the thread that analyses is put for the tests; what it imports is found from there. */
export const ANALYST = resolve('node_modules/.cache/understudy/analyst.mjs');
