import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unfinished } from '#core/rulebook/unfinished.ts';
import { Outcome } from '#core/aspects/outcome.ts';
import { controlOf, type ControlKind, type PlainControl } from '#core/controls/controls.ts';
import { Rule } from '#core/rulebook/rulebook.ts';
import { rule } from '#tests/support/arbitraries.ts';
import { put } from '../draft/edits.ts';
import { outcomePart } from './outcomes/OutcomeEditor.tsx';
import { hrefFault, isOptional, KINDS, hasPart, turnedInto, withoutPart } from './outcomes/standIns.ts';
import { fitted, INTENTIONS } from './intentions.ts';
import { clausesFor, memberChoices } from './clauseMenu.ts';

const isRight = (candidate: unknown) => Rule.safeParse(candidate).error?.issues ?? [];
const control = (candidate: PlainControl) => Outcome.safeParse({ control: candidate }).error?.issues ?? [];

describe('intentions', () => {
  it.each(INTENTIONS)('$label lands in a right rule, which lacks goods at most', ({ name, when, then }) => {
    const made = { id: 'new', name, on: true, when, then };
    expect(isRight(made)).toEqual([]);
    const mayLack = Object.keys(then).length === 0 ? ['noGoods', 'emptyGroup', 'emptyThen'] : ['noGoods', 'emptyGroup'];
    expect(mayLack).toEqual(expect.arrayContaining(unfinished(made)));
  });
});

describe('an intention in a shop of one’s own', () => {
  const home = (locale: string, ...dates: string[]) => ({ locales: [locale], dates });
  const [byTag] = INTENTIONS;
  it.each(INTENTIONS)(
    '$label is right in any shop, and as it was in one that speaks English and has its dates',
    (one) => {
      expect(fitted(one, home('en', 'ships', 'releases'))).toEqual(one);
      for (const shop of [home('de'), home('fr', 'Livrable le'), home('en')]) {
        const { name, when, then } = fitted(one, shop);
        expect(isRight({ id: 'new', name, on: true, when, then })).toEqual([]);
      }
    },
  );
  it('goes by the date that the shop has, or by none, in words of its language', () => {
    expect(fitted(byTag!, home('en', 'arrives', 'sown'))).toMatchObject({
      when: { all: [{ value: { date: 'arrives' } }] },
      then: { notes: [{ text: { en: 'Ships from **{product.date.arrives}**.' } }] },
    });
    expect(fitted(byTag!, home('de'))).toMatchObject({ when: { all: [] }, then: { control: { kind: 'preorder' } } });
    expect(JSON.stringify(fitted(byTag!, home('de')))).not.toContain('"en"');
  });
});

describe('what the sentence offers', () => {
  it('is right as soon as it is chosen, where it needs no more', () => {
    fc.assert(
      fc.property(rule, (one) => {
        for (const choice of clausesFor(one)) if ('next' in choice) expect(isRight(choice.next)).toEqual([]);
      }),
    );
  });
  it('is never said already, but for notes and conditions', () => {
    fc.assert(
      fc.property(rule, (one) => {
        const labels = clausesFor(one).map(({ label }) => label);
        expect(new Set(labels).size).toBe(labels.length);
        for (const [aspect, label] of [
          ['price', 'the price'],
          ['express', 'express pay'],
          ['limits', 'how many at a time'],
          ['cart', 'the cart'],
        ] as const) {
          if (one.then[aspect] !== undefined) expect(labels).not.toContain(label);
        }
      }),
    );
  });
  it('leaves a rule that looks at the page’s address to speak of what hangs on none', () => {
    const page = { fact: 'page.path', op: 'equals', value: '/' } as const;
    const labels = clausesFor({ id: 'a', on: true, when: page, then: {} }).map(({ label }) => label);
    expect(labels).toEqual(
      expect.arrayContaining(['a note', 'whether it is seen', 'CSS classes for the shop’s pages']),
    );
    expect(labels).not.toEqual(expect.arrayContaining(['the price']));
  });
  it('groups only while the format has room for them', () => {
    expect(memberChoices('/when/all/0').length).toBe(4);
    expect(memberChoices(`/when${'/any/0'.repeat(8)}`).length).toBe(1);
  });
});

describe('places in an outcome', () => {
  it.each([
    ['/then', { of: 'kind', place: '/then/control' }],
    ['/then/control', { of: 'kind', place: '/then/control' }],
    ['/then/control/cap', { of: 'standIn', place: '/then/control', part: 'cap' }],
    ['/then/control/onListing', { of: 'onListing', place: '/then/control/onListing' }],
    ['/then/control/onListing/href', { of: 'standIn', place: '/then/control/onListing', part: 'href' }],
    ['/then/notes/2', { of: 'aspect', place: '/then/notes/2', aspect: 'notes' }],
    ['/then/price', { of: 'aspect', place: '/then/price', aspect: 'price' }],
  ])('%s opens what it should', (pointer, part) => {
    expect(outcomePart(pointer)).toEqual(part);
  });
  it('grow by what is put at their end', () => {
    const note = { place: 'badge', text: 'New' };
    const first = put({ then: {} }, '/then/notes/0', note);
    expect(put(first, '/then/notes/1', note)).toEqual({ then: { notes: [note, note] } });
  });
});

describe('stand-ins', () => {
  const kinds = KINDS.map(({ value }) => value);
  const pairs = kinds.flatMap((from) => kinds.map((to): [ControlKind, ControlKind] => [from, to]));

  it.each(pairs)('%s turned into %s is right, and keeps its words where it can have them', (from, to) => {
    const before = { ...turnedInto(from, undefined), ...(hasPart(from, 'label') ? { label: 'Mine' } : {}) };
    const after = turnedInto(to, before);
    expect(control(after)).toEqual([]);
    if (hasPart(from, 'label') && hasPart(to, 'label')) expect(after).toHaveProperty('label', 'Mine');
  });
  it('can do without every part that is optional', () => {
    fc.assert(
      fc.property(rule, ({ then }) => {
        if (!then.control) return;
        const { onListing: _onListing, ...own } = then.control;
        const standIn = own;
        for (const part of controlOf(standIn).offered.parts) {
          if (!isOptional(standIn, part)) continue;
          const without = withoutPart(standIn, part);
          expect(without).not.toHaveProperty(part);
          expect(control(without)).toEqual([]);
        }
      }),
    );
  });
  it('lead only where they may', () => {
    expect(hrefFault('tel:+351', 'anything')).toBeNull();
    expect(hrefFault('tel:+351', 'page')).toContain('https://');
    expect(hrefFault('javascript:alert(1)', 'anything')).toContain('mailto:');
    expect(hrefFault('/x?{moon}', 'page')).toContain('placeholders');
  });
});
