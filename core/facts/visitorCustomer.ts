import type { Subject } from '../model/subject.ts';
import { defineFact, leafSchema, NameList, ofView } from './fact.ts';
import { oneOf } from './matching.ts';
import { listed, plural } from './wording.ts';

const read = ({ visitor }: Subject) => visitor.customerId;

export const visitorCustomer = defineFact({
  name: 'visitor.customer',
  schema: leafSchema('visitor.customer', ['in', 'notIn'], NameList),
  about: 'people',
  rank: 4,
  dependsOn: ofView,
  distinguishesCustomers: true,
  actual: read,
  operators: { in: oneOf(read, true), notIn: oneOf(read, false) },
  predicate: ({ op, value }, make) => make.among('visitor', 'customer', value, { holds: op === 'in', isSingle: true }),
  emitVisitor: ({ customerId }, emit) => {
    emit.value('customer', customerId);
  },
  phrase: ({ op, value }) =>
    `for ${op === 'in' ? '' : 'everyone but '}${plural('the customer', value)} ${listed(value, 'or')}`,
  asked: {
    group: 'Customers',
    questions: [
      { label: 'these customers', op: 'in', start: null, value: 'customers' },
      { label: 'everyone but these customers', op: 'notIn', start: null, value: 'customers' },
    ],
  },
});
