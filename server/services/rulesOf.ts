import type { Source } from '#core/contract/rehearsalCalls.ts';
import { EMPTY_RULEBOOK, type Rulebook } from '#core/rulebook/rulebook.ts';
import { notFound } from '../http/errors.ts';
import type { Services } from './services.ts';
import { openingById } from '../rules/openingQueries.ts';
import { editionByNumber, newestEdition, readDraft } from '../rules/rulebookQueries.ts';

/** The rules of the draft, of what is live, of an opening, or of an edition; 0 is a shop without rules. @throws {ProblemError} 404 */
export async function rulesOf({ db }: Pick<Services, 'db'>, source: Source): Promise<Rulebook> {
  if (source === 'draft') return (await readDraft(db)).document;
  if (source === 'live') return (await newestEdition(db))?.document ?? EMPTY_RULEBOOK;
  if ('opening' in source) {
    const opening = await openingById(db, source.opening);
    if (!opening) throw notFound(`opening ${source.opening}`);
    return opening.document;
  }
  if (source.edition === 0) return EMPTY_RULEBOOK;
  const row = await editionByNumber(db, source.edition);
  if (!row) throw notFound(`edition ${source.edition}`);
  return row.document;
}
