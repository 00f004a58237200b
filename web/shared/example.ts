import { controlOf } from '#core/controls/controls.ts';
import { createContext, useContext } from 'react';
import { compile } from '#core/engine/compile.ts';
import type { ProductSubject, ShopFacts, VisitorFacts } from '#core/model/subject.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import type { Product } from '#core/contract/shopCalls.ts';

/** Goods that a rule speaks of, for the previews of its texts. */
export interface Example {
  readonly shop: ShopFacts;
  readonly product: ProductSubject['product'] | null;
  readonly variant: ProductSubject['variant'] | null;
  /** Units left of the rule's own cap; null without one. */
  readonly left: number | null;
}

export const ExampleContext = createContext<Example | null>(null);
export const useExample = () => useContext(ExampleContext);

export const nobody = (locale: string | null): VisitorFacts => ({
  signedIn: false,
  roles: [],
  customerId: null,
  locale,
  invitations: [],
});

/** The first product for which a rule counts, seen by a guest; otherwise the one with the most dates. */
export function exampleFor(
  rule: Rule,
  { shop, products }: { readonly shop: ShopFacts; readonly products: readonly Product[] },
  moment: number,
): Example {
  const [compiled] = compile({ format: 'understudy-rulebook', version: 1, rules: [rule] }, shop).rules;
  const seen = { visitor: nobody(null), moment, surface: 'product', page: null } as const;
  const all = products.flatMap((product) => product.variants.map((variant) => ({ ...seen, product, variant })));
  const counted = all.find((subject) => compiled?.counts(subject).matches);
  const dated = [...all].sort((a, b) => datesOf(b) - datesOf(a))[0];
  const { product = null, variant = null } = counted ?? dated ?? {};
  const { control } = rule.then;
  const left = (control && controlOf(control).cap?.(control)?.units) ?? null;
  return { shop, product, variant, left };
}

const datesOf = ({ product }: ProductSubject) => Object.keys(product.dates).length;
