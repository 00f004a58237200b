import { defineFact, ofView } from './fact.ts';
import { asPath, pathSchema } from './paths.ts';
import { speech } from './wording.ts';

const WORDS = {
  equals: 'on the page',
  startsWith: 'on pages whose address begins with',
  contains: 'on pages whose address contains',
};

/** Path of the page that the visitor is on. */
export const pagePath = defineFact({
  name: 'page.path',
  schema: pathSchema('page.path'),
  about: 'time',
  rank: 3,
  dependsOn: ofView,
  ...asPath(({ page }) => page),
  phrase: ({ op, value }) => `${WORDS[op]} ${speech(value)}`,
  asked: {
    group: 'Place',
    questions: [
      { label: 'only on the page', op: 'equals', start: null, value: 'path' },
      { label: 'only on pages that begin with', op: 'startsWith', start: null, value: 'path' },
      { label: 'only on pages that contain', op: 'contains', start: null, value: 'pathPart' },
    ],
  },
});
