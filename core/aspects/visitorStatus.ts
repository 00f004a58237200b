import { controlOf, type DecidedControl } from '../controls/controls.ts';
import { visitorStatusText } from '../texts/defaultTexts.ts';
import type { ProductSubject, ShopFacts } from '../model/subject.ts';

/** The control with the visitor's earlier action as its text. */
export function withVisitorStatus(
  control: DecidedControl,
  { product, variant, visitor }: ProductSubject,
  shop: ShopFacts,
): DecidedControl {
  const record = visitor.statuses?.find(
    ({ to, id, status }) =>
      id === (to === 'product' ? product : variant).id && (controlOf(control).answers ?? []).includes(status.state),
  );
  if (!record) return control;
  const { status } = record;
  // A visitor who has reserved may reserve more, so the text is shown beside the control.
  return { ...control, standing: status, html: visitorStatusText(status, shop, visitor.locale) };
}
