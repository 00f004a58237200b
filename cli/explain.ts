import { rulesIn } from '#core/rulebook/entries.ts';
import type { Decision } from '#core/engine/decision.ts';
import type { Outcome } from './output.ts';
import type { Side } from './rules.ts';
import { CommandError, type Service } from './service.ts';

interface Asked {
  readonly product: string;
  readonly side: Side;
  readonly at: string | undefined;
  readonly roles: readonly string[];
  readonly isSignedIn: boolean;
  readonly listing: boolean;
}

/** Explains what a visitor sees of a product, and which rules decide it. */
export async function explain(
  service: Service,
  { product, side, at, roles, isSignedIn, listing }: Asked,
): Promise<Outcome> {
  const body = {
    source: side,
    surface: listing ? ('listing' as const) : ('product' as const),
    visitor: { signedIn: isSignedIn || roles.length > 0, roles },
    products: [product],
    ...(at === undefined ? {} : { at }),
  };
  const [{ body: answer }, names] = await Promise.all([
    service.call('POST /api/rehearsal/decisions', { body }),
    namesOf(service),
  ]);
  const [found] = answer.products;
  if (!found) throw new CommandError(`There is no product ${product}.`);
  const lines = found.variants.flatMap(({ id, decision }) => [
    `${id}: ${controlWords(decision.control)}`,
    ...Object.entries(decision.reasons)
      .filter(([, rules]) => rules.length > 0)
      .map(([aspect, rules]) => `    ${aspect}: ${rules.map((rule) => names.get(rule) ?? rule).join(', ')}`),
  ]);
  return { code: 0, json: { at: answer.at, ...found }, lines };
}

/** Names of the draft's rules; a live rule that is no longer there has its id. */
async function namesOf(service: Service): Promise<ReadonlyMap<string, string>> {
  const { body } = await service.call('GET /api/rulebook');
  return new Map(rulesIn(body).map(({ id, name }) => [id, name ?? id]));
}

function controlWords(control: Decision['control']): string {
  const label = 'label' in control && typeof control.label === 'string' ? ` “${control.label}”` : '';
  return `${control.kind}${label}`;
}
