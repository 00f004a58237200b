import { aspectOf } from '#core/aspects/aspects.ts';
import type { SellerTerms } from '#core/contract/sellerCalls.ts';
import { CONTROL_NAMES, RULE_KINDS } from '#core/controls/controls.ts';
import { joined } from '#core/facts/wording.ts';
import { SELLER_ASPECTS } from '#core/rulebook/sellers.ts';

const WHO = {
  owner: { who: 'They', their: 'their', yes: 'needs your approval' },
  seller: { who: 'You', their: 'your', yes: 'needs the shop’s approval' },
} as const;

/** "They may put a pre-order or a waitlist in the button’s place, and decide notes, in their own words." @param reader who reads it */
export function termsWords(
  { allowed, publishing }: Pick<SellerTerms, 'allowed' | 'publishing'>,
  reader: keyof typeof WHO = 'owner',
): string {
  const { kinds, aspects, hidesPrices, ownWords, mostUnits } = allowed;
  const { who, their, yes } = WHO[reader];
  const button =
    kinds.length === 0
      ? `${who} may not change the button`
      : kinds.length === RULE_KINDS.length
        ? `${who} may put anything in the button’s place`
        : `${who} may put ${joined(
            kinds.map((kind) => CONTROL_NAMES[kind]),
            'or',
          )} in the button’s place`;
  const hiding = hidesPrices ? ['whether prices are shown'] : [];
  const decided = [...aspects.map((aspect) => aspectOf(aspect).name), ...hiding];
  const beside =
    decided.length === 0
      ? ''
      : decided.length > SELLER_ASPECTS.length
        ? `, and decide all else about ${their} products`
        : `, and decide ${joined(decided, 'and')}`;
  const most = mostUnits === null ? '' : ` A pre-order takes at most ${mostUnits} units.`;
  const words = ownWords ? `, in ${their} own words` : ', in the shop’s words';
  const when =
    publishing === 'atOnce'
      ? ` What ${who.toLowerCase()} publish is live at once.`
      : ` What ${who.toLowerCase()} publish ${yes}.`;
  return `${button}${beside}${words}.${most}${when}`;
}

/** Describes how requests to sellers are handled. */
export const requestWords = ({ copies, quotes }: Pick<SellerTerms, 'copies' | 'quotes'>): string =>
  `Sellers receive their requests${copies ? '; you get a copy' : ''}. A quote over several sellers’ products is sent ${
    quotes === 'together' ? 'once all have priced it' : 'in parts, as each seller prices theirs'
  }.`;
