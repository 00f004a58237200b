import { controlOf } from '../controls/controls.ts';
import type { Decision } from './decision.ts';
import { visitorStatusText } from '../texts/defaultTexts.ts';
import type { ProductSubject, ShopFacts } from '../model/subject.ts';

type Control = Decision['control'];

/** The control with what this visitor already did here, said in the place of its own text. */
export function withVisitorStatus(
  control: Control,
  { product, variant, visitor }: ProductSubject,
  shop: ShopFacts,
): Control {
  const record = visitor.standings?.find(
    ({ to, id, standing }) =>
      id === (to === 'product' ? product : variant).id && (controlOf(control).answers ?? []).includes(standing.state),
  );
  if (!record) return control;
  const { standing } = record;
  // Who has reserved may reserve more; the text stands beside what the control says.
  return { ...control, standing, html: visitorStatusText(standing, shop, visitor.locale) };
}
