import type { Locator, Page } from '@playwright/test';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { editor, expect, phrase, publish, saved, sentence, signInAtShop, test } from '../support/stage.ts';

/** How an owner works: with a pointer, or with nothing but keys. */
interface Hand {
  press(target: Locator): Promise<void>;
  choose(page: Page, menu: Locator, item: string): Promise<void>;
  pick(page: Page, field: Locator, option: string): Promise<void>;
}

const byClicking: Hand = {
  press: (target) => target.click(),
  choose: async (page, menu, item) => {
    await menu.click();
    await page.getByRole('menuitem', { name: item }).click();
  },
  pick: async (page, field, option) => {
    await field.click();
    await field.fill(option);
    await page.getByRole('option', { name: option }).first().click();
  },
};

const byKeyboard: Hand = {
  press: async (target) => {
    await target.focus();
    await target.press('Enter');
  },
  choose: async (page, menu, item) => {
    await menu.focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('menuitem').first()).toBeFocused();
    const items = await page.getByRole('menuitem').allInnerTexts();
    const steps = items.findIndex((text) => text.startsWith(item));
    for (let step = 0; step < steps; step++) await page.keyboard.press('ArrowDown');
    await expect(page.getByRole('menuitem', { name: item })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('menu')).toBeHidden();
  },
  pick: async (page, field, option) => {
    await field.focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.type(option);
    // The list is narrowed to what was typed, and its first is what Enter takes.
    await expect(field).toHaveAttribute('aria-expanded', 'true');
    const list = page.locator(`[id="${(await field.getAttribute('aria-controls')) ?? ''}"]`);
    await expect(list.getByRole('option').first()).toContainText(option);
    if ((await list.locator('.Mui-focused').count()) === 0) await page.keyboard.press('ArrowDown');
    await expect(list.locator('.Mui-focused')).toContainText(option);
    await page.keyboard.press('Enter');
  },
};

type When = Rule['when'];
const ofProduct = (id: string): When => ({ fact: 'product.id', op: 'in', value: [id] });
const soldOut: When = { fact: 'stock.status', op: 'in', value: ['outOfStock'] };
const notMembers: When = { fact: 'visitor.roles', op: 'hasNone', value: ['member'] };

interface Intended {
  readonly intention: string;
  /** Goods that the sentence still lacks: a question of the first list, the field it opens, and what is picked there. */
  readonly goods?: readonly [question: string | null, field: string, pick: string];
  /** The same, added with "and…" to a rule that names goods already. */
  readonly more?: readonly [question: string, field: string, pick: string];
  readonly says: string;
  readonly stored: { readonly when: When; readonly then: Rule['then'] };
  /** On the sample shop: a page, a size to choose there, and what stands in the button's place. */
  readonly shop: {
    readonly path: string;
    readonly size?: string;
    readonly sees: string;
    readonly as: 'button' | 'link' | 'heading' | 'text';
  };
}

const product = (name: string) => ['these products', 'Products', name] as const;

/** Each new rule goes above those made before: a closure on top, all else below the closures. */
const INTENDED: readonly Intended[] = [
  {
    intention: 'Keep a waitlist for sold-out goods',
    says: 'For products, for everyone not invited from its waitlist, where any of these holds',
    stored: {
      when: {
        all: [
          { any: [soldOut, { fact: 'waitlist.length', op: 'gt', value: 0 }] },
          { fact: 'visitor.invited', op: 'is', value: false },
        ],
      },
      then: { control: { kind: 'waitlist', per: 'variant' } },
    },
    shop: { path: '/plants/blue-ledger', size: '9 cm pot', sees: 'Join the waitlist', as: 'link' },
  },
  {
    intention: 'Take pre-orders when a variant runs out',
    says: 'For products in variants that are on backorder: take a pre-order labelled “Pre-order”, shipping within 21 days.',
    stored: {
      when: { all: [{ fact: 'stock.status', op: 'in', value: ['backorder'] }] },
      then: { control: { kind: 'preorder', label: { en: 'Pre-order' }, ships: { within: 'P21D' } } },
    },
    shop: { path: '/plants/big-umbrella', size: '2 litre pot', sees: 'Pre-order', as: 'button' },
  },
  {
    intention: 'Take pre-orders by tag',
    goods: [null, 'Tags', 'scented'],
    says: 'For products tagged scented, until its ships date: take a pre-order labelled “Pre-order”; below the control say “Ships from **{product.date.ships}**.”.',
    stored: {
      when: {
        all: [
          { fact: 'moment', op: 'around', value: { date: 'ships', until: 'P0D' } },
          { fact: 'product.tags', op: 'hasAny', value: ['scented'] },
        ],
      },
      then: {
        control: { kind: 'preorder', label: { en: 'Pre-order' } },
        notes: [{ place: 'belowControl', text: { en: 'Ships from **{product.date.ships}**.' } }],
      },
    },
    shop: { path: '/plants/small-hours', sees: 'Pre-order', as: 'button' },
  },
  {
    intention: 'Show without selling',
    goods: product('Astrantia'),
    says: 'For products that are Astrantia ‘Pin Cushion’: say “Not sold here” in the button’s place; hide the price.',
    stored: {
      when: { all: [ofProduct('pin-cushion')] },
      then: { control: { kind: 'notice', text: { en: 'Not sold here' } }, price: { show: false } },
    },
    shop: { path: '/plants/pin-cushion', sees: 'Not sold here', as: 'text' },
  },
  {
    intention: 'Sell to members only',
    goods: product('Aster'),
    says: 'For products that are Aster ‘Last Bus’, for everyone but member: ask to sign in, labelled “Sign in to buy”, leading to “/sign-in”.',
    stored: {
      when: { all: [notMembers, ofProduct('last-bus')] },
      then: { control: { kind: 'signIn', href: '/sign-in', label: { en: 'Sign in to buy' } } },
    },
    shop: { path: '/plants/last-bus', sees: 'Sign in to buy', as: 'link' },
  },
  {
    intention: 'Sell to members first',
    goods: product('Ink and Milk'),
    says: 'For products that are Tulip ‘Ink and Milk’, until 7 days after its releases date, for everyone but member: ask to sign in, labelled “Members buy first”, leading to “/sign-in”.',
    stored: {
      when: {
        all: [
          notMembers,
          { fact: 'moment', op: 'around', value: { date: 'releases', until: 'P7D' } },
          ofProduct('ink-and-milk'),
        ],
      },
      then: { control: { kind: 'signIn', href: '/sign-in', label: { en: 'Members buy first' } } },
    },
    shop: { path: '/plants/ink-and-milk', sees: 'Members buy first', as: 'link' },
  },
  {
    intention: 'Ask for a price',
    goods: product('Soft shield'),
    says: 'For products that are Soft shield fern: take requests for a price, labelled en “Ask for a price” (fr “Demander un prix”); in the price’s place say “Price on request”.',
    stored: {
      when: { all: [ofProduct('soft-shield')] },
      then: { control: { kind: 'quote' }, price: { show: false, text: { en: 'Price on request' } } },
    },
    shop: { path: '/plants/soft-shield', sees: 'Ask for a price', as: 'link' },
  },
  {
    intention: 'A contact form when sold out',
    more: product('Salvia'),
    says: 'For products that are Salvia ‘Evening Class’, in variants that are out of stock: take enquiries, labelled en “Ask about this” (fr “Poser une question”), with the form contact right on the page.',
    stored: {
      when: { all: [soldOut, ofProduct('evening-class')] },
      then: { control: { kind: 'enquiry', form: 'contact', open: 'inline' } },
    },
    shop: { path: '/plants/evening-class', size: '2 litre pot', sees: 'Ask about this', as: 'heading' },
  },
  {
    intention: 'Let buyers pay what they like',
    goods: product('Hart’s tongue'),
    says: 'For products that are Hart’s tongue fern: let the buyer name the price, labelled en “Add at my price” (fr “Ajouter à mon prix”), at least €5.00.',
    stored: { when: { all: [ofProduct('harts-tongue')] }, then: { control: { kind: 'ownPrice', min: 500 } } },
    shop: { path: '/plants/harts-tongue', sees: 'Add at my price', as: 'link' },
  },
  {
    intention: 'Ask guests to sign in',
    goods: product('Dibber'),
    says: 'For products that are Dibber, ash, for guests: ask to sign in, labelled en “Sign in to buy” (fr “Se connecter pour acheter”), leading to “/sign-in”.',
    stored: {
      when: { all: [{ fact: 'visitor.signedIn', op: 'is', value: false }, ofProduct('ash-dibber')] },
      then: { control: { kind: 'signIn', href: '/sign-in' } },
    },
    shop: { path: '/tools/ash-dibber', sees: 'Sign in to buy', as: 'link' },
  },
  {
    intention: 'Other words on the button',
    goods: product('Runner bean'),
    says: 'For products that are Runner bean ‘Scarlet Post’: keep the button, labelled “Order for collection”.',
    stored: {
      when: { all: [ofProduct('scarlet-post')] },
      then: { control: { kind: 'buy', label: { en: 'Order for collection' } } },
    },
    shop: { path: '/plants/scarlet-post', sees: 'Order for collection', as: 'button' },
  },
];

for (const [name, hand] of Object.entries({ clicking: byClicking, 'keyboard alone': byKeyboard })) {
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

    for (const { intention, goods, more, says } of INTENDED) {
      await test.step(intention, async () => {
        await newRule(intention);
        if (goods) {
          await hand.press(phrase(owner, 'goods not chosen yet'));
          await fill(goods);
        }
        if (more) {
          await hand.choose(owner, sentence(owner).getByRole('button', { name: 'and…' }), 'which goods');
          await fill(more);
        }
        await expect(sentence(owner)).toContainText(says.replace(/ en (“[^”]*”) \(fr “[^”]*”\)/g, ' $1 (+ fr)'));
      });
    }
    await test.step('Start from nothing, and show nothing', async () => {
      await newRule('Start from nothing');
      await hand.press(phrase(owner, 'goods not chosen yet'));
      await fill(product('Pea'));
      await hand.press(phrase(owner, 'nothing is said yet'));
      await hand.press(editor(owner).getByRole('radio', { name: 'Nothing' }));
      await escape(1);
      await expect(sentence(owner)).toContainText(
        'For products that are Pea ‘Long Row’: show nothing in the button’s place.',
      );
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
    expect([newest >= 0 && newest < sold, rules.findIndex(({ name }) => name === 'Other words') >= sold]).toEqual([
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
        'For everything: say “We are away. Back soon.” in the button’s place; close the cart; close the checkout.',
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
    await hand.press(phrase(owner, 'goods not chosen yet'));
    await hand.pick(owner, editor(owner).getByLabel('Tags'), 'wildlife');
    await escape(2);
    await goOn('and…', 'any of several conditions');
    await ask('guests');
    await escape(1);
    await goOn('or…', 'all of several conditions');
    await ask('those with any of the roles');
    await hand.pick(owner, editor(owner).getByLabel('Roles'), 'trade');
    await escape(2);
    await goOn('and…', 'none of several conditions');
    await ask('variants that are');
    await escape(1);

    await expect(sentence(owner)).toContainText(
      /For products tagged wildlife, where any of these holds\s*for guests\s*where all of these hold\s*for those who are trade\s*where none of these holds\s*in variants that are out of stock/,
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
