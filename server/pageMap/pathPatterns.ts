import { RegExpParser, visitRegExpAST } from '@eslint-community/regexpp';
import { RE2JS } from 're2js';
import { patternSource, type PathPattern } from '#core/contract/pathPattern.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import { invalid } from '../errors.ts';

/** The last few, compiled. */
const compiled = new Map<string, RE2JS>();
const MOST_COMPILED = 100;

function compile(source: string): RE2JS {
  const known = compiled.get(source);
  if (known) return known;
  const pattern = RE2JS.compile(source);
  if (compiled.size >= MOST_COMPILED) compiled.clear();
  compiled.set(source, pattern);
  return pattern;
}

/** Whether a path fits a pattern, in a time that grows with the path alone (RE2). What RE2 cannot read fits nothing. */
export function pathMatches(pattern: PathPattern, path: string): boolean {
  try {
    return compile(patternSource(pattern)).matcher(path).find();
  } catch {
    return false;
  }
}

/** More parts of any length than this, one after the other, can take long on some paths. */
const MOST_UNBOUNDED = 4;

/**
 * Whether an expression takes a time that hardly grows with the path also where it is run as browsers do: nothing that
 * repeats holds something else that repeats, or alternatives.
 */
function isQuick(source: string): boolean {
  let unbounded = 0;
  let isNested = false;
  let repeating = 0;
  visitRegExpAST(new RegExpParser({ ecmaVersion: 2024 }).parsePattern(source), {
    onQuantifierEnter({ min, max, element }) {
      if (max === min && max === 1) return;
      if (repeating > 0) isNested = true;
      if (element.type !== 'CharacterSet' && element.type !== 'Character' && element.type !== 'CharacterClass')
        repeating += 1;
      if (max === Infinity) unbounded += 1;
    },
    onQuantifierLeave({ min, max, element }) {
      if (max === min && max === 1) return;
      if (element.type !== 'CharacterSet' && element.type !== 'Character' && element.type !== 'CharacterClass')
        repeating -= 1;
    },
    onAlternativeEnter({ parent }) {
      if (repeating > 0 && 'alternatives' in parent && parent.alternatives.length > 1) isNested = true;
    },
  });
  return !isNested && unbounded <= MOST_UNBOUNDED;
}

/**
 * Refuses a map with an expression that RE2 cannot read, or that shoppers' browsers might take for ever over.
 * @throws {ProblemError} 422
 */
export function refuseEndless(map: PageMap): void {
  const patterns = { productPage: map.productPage.path, cart: map.cart?.path, checkout: map.checkout?.path };
  const errors = Object.entries(patterns).flatMap(([part, pattern]) => {
    if (pattern === undefined) return [];
    try {
      const source = patternSource(pattern);
      compile(source);
      if (typeof pattern === 'string' && !isQuick(source)) throw new Error('it may take for ever');
      return [];
    } catch {
      const allowed =
        'an expression without look-around, back-references and repetitions in repetitions, or {"like": ["/plants/*"]}';
      return [{ pointer: `/${part}/path`, found: JSON.stringify(pattern), allowed }];
    }
  });
  if (errors.length > 0) throw invalid('The page map', errors);
}
