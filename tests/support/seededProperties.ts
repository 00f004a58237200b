import fc from 'fast-check';
import { SEED } from './sampling.ts';

// The same cases all day, so that a run can be repeated, and others tomorrow.
fc.configureGlobal({ ...fc.readConfigureGlobal(), seed: SEED });
