import { fulfils, evaluateSpotCheck, spotCheckSentence } from '#core/analysis/spotCheck.ts';
import type { CheckedSpot } from '#core/contract/spotCheckCalls.ts';
import { compile } from '#core/engine/compile.ts';
import { toLocal } from '#core/model/zone.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { dateWords } from '#core/facts/wording.ts';
import type { SellerRules } from '#core/rulebook/sellers.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { productVariants } from '../catalog/catalogQueries.ts';
import type { Queryable } from '../db/database.ts';
import { ProblemError } from '../http/errors.ts';
import { resolveAudiences } from '../visitors/audiences.ts';
import { allSpotChecks } from './spotCheckQueries.ts';

/** Runs all spot checks against a rulebook; checks without a moment of their own run at `moment` (epoch ms). */
export async function checkSpots(
  db: Queryable,
  rules: Rulebook,
  shop: ShopFacts,
  moment: number,
  sellers: readonly SellerRules[],
): Promise<CheckedSpot[]> {
  const checks = await allSpotChecks(db);
  if (checks.length === 0) return [];
  const goods = await productVariants(
    db,
    checks.map(({ variant: variantId }) => ({ variantId })),
  );
  const visitors = await resolveAudiences(
    db,
    checks.map(({ visitor }) => visitor),
  );
  const rulebook = compile(rules, shop, sellers);
  return checks.map((check, index) => {
    const found = goods.get(check.variant);
    const title = found
      ? [wordsIn(found.product.title, null, shop.locales), check.surface === 'listing' ? '' : found.variant.title]
          .filter(Boolean)
          .join(', ')
      : null;
    const visitor = visitors[index] ?? check.visitor;
    const sight = found ? evaluateSpotCheck(rulebook, { ...check, visitor }, found, moment) : null;
    const when = check.at === null ? '' : localWords(shop, Date.parse(check.at));
    return {
      ...check,
      title,
      sentence: spotCheckSentence(check, title ?? check.variant, when),
      seen: sight,
      passes: sight !== null && fulfils(check.expects, sight),
    };
  });
}

const localWords = ({ zone }: ShopFacts, instant: number) =>
  dateWords(new Date(toLocal(zone, instant)).toISOString().slice(0, 16));

/** @throws {ProblemError} 409 when a blocking check fails */
export async function refuseFailing(...of: Parameters<typeof checkSpots>): Promise<void> {
  const failing = (await checkSpots(...of)).filter(({ passes, blocks }) => blocks && !passes);
  if (failing.length === 0) return;
  const which = failing.map(({ sentence }) => sentence).join(' ');
  const count = failing.length === 1 ? 'A spot check fails' : `${failing.length} spot checks fail`;
  throw new ProblemError(
    'spot-checks-fail',
    `${count}, so nothing was published: ${which} Change the rules, or the check.`,
  );
}
