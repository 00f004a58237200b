import type { VisitorFacts, VisitorStatusRecord } from '#core/model/subject.ts';
import type { Zone } from '#core/model/zone.ts';
import type { Services } from '../base/services.ts';

/** What a feature knows a customer to have done already. */
export type StatusReader = (services: Services, customer: string, zone: Zone) => Promise<VisitorStatusRecord[]>;

/** What a visitor who is signed in already did here: nothing is known of guests. */
export async function statusesOf(
  services: Services,
  visitor: VisitorFacts,
  { readers, zone }: { readonly readers: readonly StatusReader[]; readonly zone: Zone },
): Promise<VisitorStatusRecord[]> {
  const { customerId } = visitor;
  if (customerId === null) return [];
  return (await Promise.all(readers.map((read) => read(services, customerId, zone)))).flat();
}
