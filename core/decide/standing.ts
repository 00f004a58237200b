import type { Decision, Standing } from '../contract/decision.ts';
import { standingText } from '../texts/ownWords.ts';
import type { GoodsSubject, ShopFacts } from './subject.ts';

type Control = Decision['control'];

/** The stand-ins that each standing answers. */
const ANSWERS: Readonly<Record<Standing['state'], readonly Control['kind'][]>> = {
  waiting: ['waitlist'],
  invited: ['waitlist', 'signIn'],
  reserved: ['preorder'],
  asked: ['quote', 'enquiry'],
};

/** The control with what this visitor already did here, said in the place of its own text. */
export function withStanding(control: Control, { product, variant, visitor }: GoodsSubject, shop: ShopFacts): Control {
  const held = visitor.standings?.find(
    ({ to, id, standing }) =>
      id === (to === 'product' ? product : variant).id && ANSWERS[standing.state].includes(control.kind),
  );
  if (!held) return control;
  const { standing } = held;
  // Who has reserved may reserve more; the text stands beside what the control says.
  return { ...control, standing, html: standingText(standing, shop, visitor.locale) };
}
