import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { fillGrowersRequests } from './growersRequests.ts';
import type { Owner } from './ownerClient.ts';

const PASSWORD = 'seed-tray-and-string';

/** The nursery's three growers, who decides for each, and what they wish for their own plants. */
const GROWERS: readonly {
  readonly name: string;
  readonly person: { readonly name: string; readonly email: string };
  readonly rules: readonly Rule[];
  /** Rule that awaits approval. */
  readonly asks?: Rule;
}[] = [
  {
    name: 'Tidewater Ferns',
    person: { name: 'Ida Marsh', email: 'ida@quillfern.example' },
    rules: [
      {
        id: 'for-landscapers',
        name: 'For landscapers',
        on: true,
        when: {
          all: [
            { fact: 'product.tags', op: 'hasAny', value: ['native'] },
            { fact: 'visitor.roles', op: 'hasAny', value: ['trade'] },
          ],
        },
        then: { control: { kind: 'quote', label: { en: 'Ask for a price', fr: 'Demander un prix' } } },
      },
      {
        id: 'lifted-to-order',
        name: 'Lifted to order',
        on: true,
        when: { fact: 'product.tags', op: 'hasAny', value: ['native'] },
        then: {
          control: {
            kind: 'preorder',
            label: { en: 'Order ahead', fr: 'Commander d’avance' },
            cap: { units: 40, per: 'product' },
            ships: { within: 'P10D' },
          },
          notes: [
            {
              place: 'belowControl',
              text: {
                en: 'We lift your fern when you order it, and send it within ten days.',
                fr: 'Nous levons votre fougère à la commande et l’envoyons sous dix jours.',
              },
            },
          ],
        },
      },
    ],
  },
  {
    name: 'The Long Bed',
    person: { name: 'Bram Holloway', email: 'bram@quillfern.example' },
    rules: [
      // Conflicts with the shop's own waitlist for sold-out products, which stands above the growers' rules.
      {
        id: 'next-sowing',
        name: 'From the next sowing',
        on: true,
        when: { fact: 'stock.status', op: 'in', value: ['outOfStock'] },
        then: {
          control: {
            kind: 'preorder',
            label: { en: 'From the next sowing', fr: 'Du prochain semis' },
            ships: { within: 'P42D' },
          },
        },
      },
      {
        id: 'wednesdays',
        name: 'Sent on Wednesdays',
        on: true,
        when: { fact: 'product.tags', op: 'hasAny', value: ['plug'] },
        then: {
          notes: [
            {
              place: 'belowControl',
              text: { en: 'Plugs travel on Wednesdays.', fr: 'Les mini-mottes voyagent le mercredi.' },
            },
          ],
        },
      },
    ],
    asks: {
      id: 'by-the-hundred',
      name: 'By the hundred',
      on: true,
      when: {
        all: [
          { fact: 'product.tags', op: 'hasAny', value: ['plug'] },
          { fact: 'visitor.roles', op: 'hasAny', value: ['trade'] },
        ],
      },
      then: { control: { kind: 'quote', label: { en: 'Ask for a price', fr: 'Demander un prix' }, beside: true } },
    },
  },
  {
    name: 'Marrow & Daughter',
    person: { name: 'Wyn Marrow', email: 'wyn@quillfern.example' },
    rules: [
      {
        id: 'by-the-tray',
        name: 'By the tray',
        on: true,
        when: {
          all: [
            { fact: 'product.tags', op: 'hasAny', value: ['surplus'] },
            { fact: 'visitor.roles', op: 'hasAny', value: ['trade'] },
          ],
        },
        then: { control: { kind: 'quote', label: { en: 'Ask for a price', fr: 'Demander un prix' } } },
      },
      {
        id: 'ask-about-seed',
        name: 'Ask about our seed',
        on: true,
        when: { fact: 'product.categories', op: 'within', value: ['seeds/vegetable-seed'] },
        then: {
          control: {
            kind: 'enquiry',
            form: 'contact',
            open: 'dialog',
            beside: true,
            label: { en: 'Ask us about it', fr: 'Posez-nous une question' },
          },
        },
      },
      // Outranks the shop's own rule about surplus stock, which stands below the growers' rules.
      {
        id: 'ask-us-first',
        name: 'Ask us first',
        on: true,
        when: { fact: 'product.tags', op: 'hasAny', value: ['surplus'] },
        then: {
          control: {
            kind: 'waitlist',
            per: 'product',
            text: {
              en: 'We tell you when a tray is ready to collect.',
              fr: 'Nous vous disons quand un plateau est prêt.',
            },
          },
        },
      },
    ],
  },
];

/** The rulebook with the growers' place in it: the shop's waitlist for what is sold out outranks them, and no more. */
export function withGrowers(rulebook: Rulebook): Rulebook {
  const place = rulebook.rules.findIndex(({ id }) => id === 'sold-out-sizes') + 1;
  return { ...rulebook, rules: rulebook.rules.toSpliced(place, 0, { id: 'growers', sellers: true, on: true }) };
}

/** Adds the growers with their people, who sign in, publish their rules by themselves, and answer one who asks. */
export async function fillGrowers(
  url: string,
  owner: Owner,
  { simulators, visitorSecret }: { simulators: string; visitorSecret: string },
): Promise<void> {
  const calls = new Map<string, Awaited<ReturnType<typeof signedIn>>>();
  for (const { name, person, rules, asks } of GROWERS) {
    const { id } = await owner.send<{ id: string }>('POST', '/api/sellers', JSON.stringify({ name, names: [name] }));
    await owner.send('POST', `/api/sellers/${id}/people`, JSON.stringify(person));
    const grower = await signedIn(url, await tokenFor(simulators, person.email));
    calls.set(name, grower);
    const publish = async (published: readonly Rule[]) => {
      const book: Rulebook = { format: 'understudy-rulebook', version: 1, rules: [...published] };
      await grower('PUT', '/api/seller/rulebook', book);
      await grower('POST', '/api/seller/editions');
    };
    const settings = { name, names: [name], allowed: null };
    const set = (publishing: 'atOnce' | null) =>
      owner.send('PUT', `/api/sellers/${id}`, JSON.stringify({ ...settings, publishing }));
    await set('atOnce');
    await publish(rules);
    await set(null);
    if (asks) await publish([asks, ...rules]);
  }
  await fillGrowersRequests(url, owner, visitorSecret, async (grower, quote, lines) => {
    const priced = { lines, delivery: 1800, days: 21, words: 'Grown on the cold side; all between 30 and 35 cm.' };
    await calls.get(grower)?.('PUT', `/api/quotes/${quote}/price`, priced);
  });
}

/** The token of the invitation that came by letter. */
async function tokenFor(simulators: string, email: string): Promise<string> {
  for (const begun = Date.now(); Date.now() - begun < 60_000;) {
    const letters = await (await fetch(`${simulators}/letters.json?find=${encodeURIComponent(email)}`)).text();
    const [, token] = /\/password\?token=([\w.-]+)/.exec(letters) ?? [];
    if (token !== undefined) return token;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error(`no invitation has come for ${email}`);
}

/** Accepts an invitation by choosing a password, and makes calls as that person. */
async function signedIn(url: string, token: string) {
  const send = (method: string, path: string, headers: object, body?: unknown) =>
    fetch(url + path, {
      method,
      headers: { 'Content-Type': 'application/json', ...headers },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  const chosen = await send('POST', '/api/password', {}, { token, password: PASSWORD });
  const { csrfToken } = (await chosen.json()) as { csrfToken: string };
  const cookie = chosen.headers
    .getSetCookie()
    .map((line) => line.split(';')[0])
    .join('; ');
  return async (method: string, path: string, body?: unknown) => {
    const answer = await send(method, path, { cookie, 'X-CSRF-Token': csrfToken, 'If-Match': '*' }, body);
    if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`);
  };
}
