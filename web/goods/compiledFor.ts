import { compile, type CompiledRulebook } from '#core/engine/compile.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import type { Goods } from './useGoods.ts';

/** Compiles rules for the shop, with its sellers' rules. */
export const compiledFor = (rulebook: Rulebook, { shop, sellers }: Pick<Goods, 'shop' | 'sellers'>): CompiledRulebook =>
  compile(rulebook, shop, sellers);
