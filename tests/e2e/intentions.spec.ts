import type { Rule } from '#core/rulebook/rulebook.ts';
import { HANDS } from '../support/hands.ts';
import { INTENDED, product, soldOut, type Intended, type When } from '../support/intended.ts';
import { partOf } from '../support/sampling.ts';
import { editor, expect, phrase, publish, saved, sentence, signInAtShop, test } from '../support/stage.ts';

// By keyboard alone one day, by clicking the next.
for (const [name, hand] of partOf(Object.entries(HANDS), 2)) {
  test(`one rule of each intention is built by ${name}; the sentence, what is stored and the shop agree`, async ({
    owner,
    shopper,
    stage,
  }) => {
    // A dozen rules, each pressed or typed together and then looked at in the shop.
    test.slow();
    const place = owner.getByText(/^rule \d+ of \d+/);
    const newRule = async (intention: string) => {
      const count = Number(/of (\d+)/.exec(await place.innerText())?.[1]);
      await hand.choose(owner, owner.getByRole('button', { name: 'New rule', exact: true }), intention);
      await expect(place).toContainText(new RegExp(`^rule \\d+ of ${count + 1} · `));
    };
    const escape = async (times: number) => {
      for (let time = 0; time < times; time++) await owner.keyboard.press('Escape');
      await expect(editor(owner)).toBeHidden();
    };
    const fill = async ([question, field, pick]: NonNullable<Intended['goods']>) => {
      if (question !== null) await hand.pick(owner, editor(owner).getByLabel('Which goods'), question);
      await hand.pick(owner, editor(owner).getByLabel(field), pick);
      await escape(2);
    };

    for (const { intention, goods, more, sentence: expectedSentence } of INTENDED) {
      await test.step(intention, async () => {
        await newRule(intention);
        if (goods) {
          await hand.press(phrase(owner, 'choose products'));
          await fill(goods);
        }
        if (more) {
          await hand.choose(owner, sentence(owner).getByRole('button', { name: 'and…' }), 'which goods');
          await fill(more);
        }
        await expect(sentence(owner)).toContainText(
          expectedSentence.replace(/ en (“[^”]*”) \(fr “[^”]*”\)/g, ' $1 (+ fr)'),
        );
      });
    }
    await test.step('Start from scratch, and show nothing', async () => {
      await newRule('Start from scratch');
      await hand.press(phrase(owner, 'choose products'));
      await fill(product('Pea'));
      await hand.press(phrase(owner, 'choose what happens'));
      await hand.press(editor(owner).getByRole('radio', { name: 'Nothing' }));
      await escape(1);
      await expect(sentence(owner)).toContainText('For products that are Pea ‘Long Row’: remove the button.');
    });
    await saved(owner);

    const { rules } = (await (await owner.request.get(`${stage.understudy.url}/api/rulebook`)).json()) as {
      rules: Rule[];
    };
    const made = rules.map(({ when, then }) => ({ when, then }));
    for (const { stored } of INTENDED) expect(made).toContainEqual(stored);
    expect(made.map(({ then }) => then)).toContainEqual({ control: { kind: 'nothing' } });
    const closes = ({ then }: Pick<Rule, 'then'>) => /notice|nothing|signIn/.test(then.control?.kind ?? '');
    const sold = rules.findIndex((rule) => !closes(rule));
    const newest = rules.findIndex(({ name }) => name === 'Shown, not sold');
    expect([newest >= 0 && newest < sold, rules.findIndex(({ name }) => name === 'Another label') >= sold]).toEqual([
      true,
      true,
    ]);

    await publish(owner);
    for (const { intention, shop } of INTENDED) {
      await test.step(`the shop: ${intention}`, async () => {
        await shopper.goto(stage.shop.url + shop.path);
        if (shop.size !== undefined) await shopper.getByLabel('Size').selectOption(shop.size);
        const area = shopper.getByRole('main');
        const seen =
          shop.as === 'text' ? area.getByText(shop.sees) : area.getByRole(shop.as, { name: shop.sees, exact: true });
        await expect(seen).toBeVisible();
        await expect(area.getByRole('button', { name: 'Put in basket' })).toBeHidden();
      });
    }
    await shopper.goto(`${stage.shop.url}/plants/small-hours`);
    await expect(shopper.getByText(/^Ships from /)).toBeVisible();
    await shopper.goto(`${stage.shop.url}/plants/soft-shield`);
    await expect(shopper.getByText('Price on request')).toBeVisible();
    await expect(shopper.getByText('€8.50')).toBeHidden();
    await shopper.goto(`${stage.shop.url}/plants/long-row`);
    await expect(shopper.getByText('Pea ‘Long Row’').first()).toBeVisible();
    await expect(shopper.getByRole('main').getByRole('button')).toHaveCount(0);
    await signInAtShop(shopper, stage.shop.url, 'Inês Prado');
    await shopper.goto(`${stage.shop.url}/plants/last-bus`);
    await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeVisible();

    await test.step('Pause the shop', async () => {
      await owner.getByRole('link', { name: /^Rules/ }).click();
      await newRule('Pause the shop');
      await expect(sentence(owner)).toContainText(
        'For everything: show “We are away. Back soon.” instead of the button; close the cart; close the checkout.',
      );
      await saved(owner);
      await publish(owner);
      await shopper.reload();
      await expect(shopper.getByText('We are away. Back soon.').first()).toBeVisible();
    });
  });

  test(`conditions are nested three deep by ${name}; the sentence, what is stored and the shop agree`, async ({
    owner,
    shopper,
    stage,
  }) => {
    const escape = async (times: number) => {
      for (let time = 0; time < times; time++) await owner.keyboard.press('Escape');
      await expect(editor(owner)).toBeHidden();
    };
    const ask = (question: string) =>
      hand.pick(owner, editor(owner).getByRole('combobox', { name: 'Condition' }), question);
    const goOn = (more: string, choice: string) =>
      hand.choose(owner, sentence(owner).getByRole('button', { name: more }).first(), choice);
    await hand.choose(owner, owner.getByRole('button', { name: 'New rule', exact: true }), 'Show without selling');
    await hand.press(phrase(owner, 'choose products'));
    await hand.pick(owner, editor(owner).getByLabel('Tags'), 'wildlife');
    await escape(2);
    await goOn('and…', 'any of several conditions');
    await ask('guests');
    await escape(1);
    await goOn('or…', 'all of several conditions');
    await ask('customers with any of the roles');
    await hand.pick(owner, editor(owner).getByLabel('Roles'), 'trade');
    await escape(2);
    await goOn('and…', 'none of several conditions');
    await ask('variants that are');
    await escape(1);

    await expect(sentence(owner)).toContainText(
      /For products tagged wildlife, where any of these is true\s*for guests\s*where all of these are true\s*for customers with the role trade\s*where none of these is true\s*in variants that are out of stock/,
    );
    await saved(owner);
    const { rules } = (await (await owner.request.get(`${stage.understudy.url}/api/rulebook`)).json()) as {
      rules: Rule[];
    };
    const trade: When = { fact: 'visitor.roles', op: 'hasAny', value: ['trade'] };
    const guests: When = { fact: 'visitor.signedIn', op: 'is', value: false };
    expect(rules[0]?.when).toEqual({
      all: [
        { fact: 'product.tags', op: 'hasAny', value: ['wildlife'] },
        { any: [guests, { all: [trade, { none: [soldOut] }] }] },
      ],
    });

    await publish(owner);
    const withheld = shopper.getByRole('main').getByText('Not sold here');
    await shopper.goto(`${stage.shop.url}/plants/blue-ledger`);
    await expect(withheld).toBeVisible();
    await signInAtShop(shopper, stage.shop.url, 'Bram Oakes');
    await shopper.goto(`${stage.shop.url}/plants/blue-ledger`);
    await expect(shopper.getByText('Sold out for now: 9 cm pot.')).toBeVisible();
    await shopper.getByLabel('Size').selectOption('2 litre pot');
    await expect(withheld).toBeVisible();
    await signInAtShop(shopper, stage.shop.url, 'Cleo Marsh');
    await shopper.goto(`${stage.shop.url}/plants/blue-ledger`);
    await shopper.getByLabel('Size').selectOption('2 litre pot');
    await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeVisible();
  });
}
