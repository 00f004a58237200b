import { controlOf, type DecidedControl } from '../controls/controls.ts';
import { visitorStatusText } from '../texts/defaultTexts.ts';
import type { ProductSubject, ShopFacts } from '../model/subject.ts';

/** The control with the visitor's earlier action as its text. */
export function withVisitorStatus(
  control: DecidedControl,
  { product, variant, visitor }: ProductSubject,
  shop: ShopFacts,
): DecidedControl {
  const record = visitor.standings?.find(
    ({ to, id, standing }) =>
      id === (to === 'product' ? product : variant).id && (controlOf(control).answers ?? []).includes(standing.state),
  );
  if (!record) return control;
  const { standing } = record;
  // A visitor who has reserved may reserve more, so the text is shown beside the control.
  return { ...control, standing, html: visitorStatusText(standing, shop, visitor.locale) };
}
