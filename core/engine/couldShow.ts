import { kindsShown } from '../aspects/control.ts';
import type { DecidedControl } from '../controls/controls.ts';
import { factOf } from '../facts/facts.ts';
import { NOBODY } from '../model/nobody.ts';
import type { ProductFacts, Subject, Surface } from '../model/subject.ts';
import { rulesAbout, takesPart, type CompiledRule, type CompiledRulebook } from './compile.ts';
import { possible } from './possible.ts';

/** A control that a page says it showed. */
export interface ShownControl {
  readonly product: ProductFacts;
  /** Null for the product as a whole. */
  readonly variant: string | null;
  readonly surface: Surface;
  readonly kind: DecidedControl['kind'];
  /** The rule that decided it; null where none did. */
  readonly rule: string | null;
  /** Epoch ms. */
  readonly moment: number;
}

/** Tests of whether a rule may count, by rule. Pages do not report visitor, stock or time, so these are unknown. */
const mayCount = new WeakMap<CompiledRule, (subject: Subject) => boolean>();

/** Returns whether the live rules could show a control for a product on a surface, to any visitor. */
export function couldShow(rulebook: CompiledRulebook, shown: ShownControl): boolean {
  const { product, variant, surface, kind, rule, moment } = shown;
  const variants = product.variants.filter(({ id }) => variant === null || id === variant);
  if (variants.length === 0) return false;
  const compiled = rule === null ? undefined : rulesAbout(rulebook, product).find((one) => one.rule.id === rule);
  const control = compiled?.rule.then.control;
  if (!kindsShown(control, surface, product).includes(kind)) return false;
  if (rule === null) return true;
  if (!compiled || !control || !takesPart(compiled)) return false;
  let test = mayCount.get(compiled);
  if (!test) {
    test = possible(compiled.rule.when, rulebook.shop, (leaf) => {
      const { dependsOn, isSupply } = factOf(leaf);
      return leaf.fact === 'surface' || (dependsOn(leaf) === 'products' && isSupply !== true);
    });
    mayCount.set(compiled, test);
  }
  return variants.some((one) => test({ ...NOBODY, product, variant: one, surface, moment }));
}
