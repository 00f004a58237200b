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

/**
 * Refuses a map with an expression that RE2 cannot read: whatever looks around or back takes a time that nobody can tell.
 * @throws {ProblemError} 422
 */
export function refuseEndless(map: PageMap): void {
  const patterns = { productPage: map.productPage.path, cart: map.cart?.path, checkout: map.checkout?.path };
  const errors = Object.entries(patterns).flatMap(([part, pattern]) => {
    if (pattern === undefined) return [];
    try {
      compile(patternSource(pattern));
      return [];
    } catch {
      const allowed = 'an expression without look-around and back-references, or {"like": ["/plants/*"]}';
      return [{ pointer: `/${part}/path`, found: JSON.stringify(pattern), allowed }];
    }
  });
  if (errors.length > 0) throw invalid('The page map', errors);
}
