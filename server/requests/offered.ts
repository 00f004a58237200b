import type { CompiledRulebook } from '#core/engine/compile.ts';
import type { Decision } from '#core/engine/decision.ts';
import { decideVariants } from '#core/engine/decide.ts';
import type { ProductFacts, ViewContext } from '#core/model/subject.ts';

type Kind = Decision['control']['kind'];

/** A control that stands somewhere for a product, with the decision that put it there. */
export interface Offered<K extends Kind> {
  readonly surface: 'product' | 'listing';
  readonly decision: Decision;
  readonly control: Extract<Decision['control'], { kind: K }>;
}

/**
 * Lists where a control of a kind stands now, on the product's page first: what is asked for must be offered.
 * @param variant the variant it must stand for; any of the product where it is undefined or null
 */
export function offersOf<K extends Kind>(
  rulebook: CompiledRulebook,
  product: ProductFacts,
  seen: Pick<ViewContext, 'visitor' | 'moment'>,
  { kind, variant }: { readonly kind: K; readonly variant?: string | null | undefined },
): Offered<K>[] {
  return (['product', 'listing'] as const).flatMap((surface) =>
    decideVariants(rulebook, product, { ...seen, surface, page: null }).flatMap((decision) => {
      const { control, variantId } = decision;
      return (variant ?? variantId) === variantId && isOf(control, kind) ? [{ surface, decision, control }] : [];
    }),
  );
}

const isOf = <K extends Kind>(
  control: Decision['control'],
  kind: K,
): control is Extract<Decision['control'], { kind: K }> => control.kind === kind;
