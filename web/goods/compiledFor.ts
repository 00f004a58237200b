import { compile, type CompiledRulebook } from '#core/engine/compile.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import type { Goods } from './useGoods.ts';

/** Rules made ready to decide about goods of the shop, with those of its sellers. */
export const compiledFor = (rulebook: Rulebook, { shop, sellers }: Pick<Goods, 'shop' | 'sellers'>): CompiledRulebook =>
  compile(rulebook, shop, sellers);
