import { defineFact, ofView } from './fact.ts';
import { asPath, pathSchema } from './paths.ts';
import { speech } from './wording.ts';

const WORDS = {
  equals: 'on the page',
  startsWith: 'on pages whose address begins with',
  contains: 'on pages whose address contains',
};

/** The address of the page that the visitor is on. */
export const pagePath = defineFact({
  name: 'page.path',
  schema: pathSchema('page.path'),
  about: 'time',
  rank: 3,
  dependsOn: ofView,
  ...asPath(({ page }) => page),
  phrase: ({ op, value }) => `${WORDS[op]} ${speech(value)}`,
});
