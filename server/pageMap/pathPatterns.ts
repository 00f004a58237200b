import { RegExpParser, visitRegExpAST, type AST } from '@eslint-community/regexpp';
import { RE2JS } from 're2js';
import { patternSource, type PathPattern } from '#core/contract/pathPattern.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import { invalid } from '../http/errors.ts';

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

/** Matches a path in time linear in its length (RE2). A pattern that RE2 cannot read matches nothing. */
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
  const found = { unbounded: 0, nested: 0, repeating: 0 };
  /** A repetition of more than one character at a time. */
  const isOfGroup = ({ element, min, max }: AST.Quantifier) =>
    !(min === 1 && max === 1) && !['CharacterSet', 'Character', 'CharacterClass'].includes(element.type);
  visitRegExpAST(new RegExpParser({ ecmaVersion: 2024 }).parsePattern(source), {
    onQuantifierEnter(quantifier) {
      if (found.repeating > 0) found.nested += 1;
      if (isOfGroup(quantifier)) found.repeating += 1;
      if (quantifier.max === Infinity) found.unbounded += 1;
    },
    onQuantifierLeave(quantifier) {
      if (isOfGroup(quantifier)) found.repeating -= 1;
    },
    onAlternativeEnter({ parent }) {
      if (found.repeating > 0 && parent.alternatives.length > 1) found.nested += 1;
    },
  });
  return found.nested === 0 && found.unbounded <= MOST_UNBOUNDED;
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
