import { FACTS, factNamed, type Leaf } from '#core/facts/facts.ts';
import type { FactQuestion } from '#core/facts/fact.ts';
import type { About } from '#core/facts/segment.ts';

/** A condition offered in a list. */
export type Question = FactQuestion<Leaf['op']> & { readonly fact: Leaf['fact'] };

/** Topics of a condition: a clause of the sentence, anything in a group, or product facts in the catalog. */
export type ConditionKind = Exclude<About, 'outcome'> | 'anything' | 'catalog';

const questionsAbout = (wanted: About): readonly Question[] =>
  FACTS.filter(({ about }) => about === wanted).flatMap(({ name, asked }) =>
    asked.questions.map((question) => ({ ...question, fact: name })),
  );
const [GOODS, PEOPLE, TIME] = [questionsAbout('products'), questionsAbout('people'), questionsAbout('time')];

export const QUESTIONS: Record<ConditionKind, readonly Question[]> = {
  products: GOODS,
  people: PEOPLE,
  time: TIME,
  anything: [...GOODS, ...PEOPLE, ...TIME],
  catalog: [...GOODS.filter(({ fact }) => fact !== 'product'), ...TIME.filter(({ op }) => op === 'around')],
};

/** Heading of a question's group. */
export const groupOf = ({ fact }: Question): string => factNamed(fact).asked.group;

/** The question that a condition asks. */
export function questionOf(questions: readonly Question[], leaf: Leaf): Question | undefined {
  return questions.find(
    ({ fact, op, start, value }) =>
      fact === leaf.fact && op === leaf.op && (value !== 'none' || fact === 'product' || start === leaf.value),
  );
}
