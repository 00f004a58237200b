import {
  answerSeller,
  deleteSeller,
  inviteToSeller,
  listSellerPublications,
  listSellers,
  mergeSeller,
  postSeller,
  putSeller,
  putSellerTerms,
  restoreSellerPublication,
  type Seller,
} from '#core/contract/sellerCalls.ts';
import { categoryId, sameName } from '#core/model/names.ts';
import { enqueueNotifications } from '../messages/outbox.ts';
import type { JobServices } from '../services/services.ts';
import { record } from '../db/record.ts';
import type { Queryable } from '../db/database.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { inviteByLetter, isThere } from '../session/staffLetters.ts';
import { createStaff, sellersPeople } from '../session/staffQueries.ts';
import { allSellers, lockSeller, sellerById, sellerTerms } from '../rules/sellerQueries.ts';
import * as changes from './sellerChanges.ts';

/** The owner's calls about sellers and their allowances. */
export function sellerRoutes(endpoints: Endpoints, services: JobServices): void {
  const { db, live, clock, config } = services;
  const now = () => new Date(clock());

  /** Changes sellers, and announces it to every copy of the server. */
  const change = async <Answer>(work: (client: Queryable) => Promise<Answer>): Promise<Answer> => {
    const answer = await db.transaction(async (client) => {
      const done = await work(client);
      await live.announce(client);
      return done;
    });
    await live.refresh();
    return answer;
  };
  const locked = async (client: Queryable, id: string) => {
    const seller = await lockSeller(client, id);
    if (!seller) throw notFound(`seller ${id}`);
    return seller;
  };
  /** Writes to a seller's people what the shop did with their rules. */
  const notifySeller = (client: Queryable, seller: string, values: { answer: string; words: string }) =>
    enqueueNotifications(client, services, live.current().rulebook.shop, [
      {
        event: 'sellerRules.answered',
        locale: null,
        values: { ...values, link: `${config.publicUrl}/rules` },
        seller,
        only: 'seller',
      },
    ]);
  const take = async (client: Queryable, id: string, names: readonly string[]) => {
    const taken = await changes.takeNames(client, id, names);
    if (taken !== null) throw isTaken(taken);
  };

  route(endpoints, listSellers, async () => {
    const [rows, sold, terms, people] = await Promise.all([
      allSellers(db),
      changes.productsByName(db),
      sellerTerms(db),
      sellersPeople(db),
    ]);
    const counts = new Map<string, { name: string; products: number }>();
    for (const { name, products } of sold) {
      const known = counts.get(sameName(name));
      counts.set(sameName(name), { name: known?.name ?? name, products: products + (known?.products ?? 0) });
    }
    const sellers = rows.map((row): Seller => {
      const keys = new Set(row.names.map(sameName));
      const mine = [...keys].map((key) => counts.get(key)?.products ?? 0);
      for (const key of keys) counts.delete(key);
      const { id, name, names, allowed, publishing } = row;
      return {
        id,
        name,
        names: [...names],
        allowed,
        publishing,
        products: mine.reduce((sum, products) => sum + products, 0),
        rules: [...row.live],
        asked: row.asked && {
          at: row.askedAt?.toISOString() ?? '',
          by: row.askedBy ?? '',
          rules: [...row.asked],
        },
        people: people
          .filter(({ sellerId }) => sellerId === id)
          .map(({ id: staffId, name: called, email, passwordHash }) => ({
            id: staffId,
            name: called,
            email,
            isInvited: passwordHash === null,
          })),
      };
    });
    const unnamed = [...counts.values()].sort((a, b) => b.products - a.products || (a.name < b.name ? -1 : 1));
    return reply(200, { sellers, unnamed, terms });
  });

  route(endpoints, putSellerTerms, async ({ body }) => {
    await change((client) => changes.writeSellerTerms(client, body));
    return reply(204, undefined);
  });

  route(endpoints, postSeller, async ({ body: { name, names } }, { request }) => {
    const id = `${categoryId([name]) ?? 'seller'}-${crypto.randomUUID().slice(0, 6)}`.slice(-100);
    await change(async (client) => {
      await changes.insertSeller(client, id, name.trim(), now());
      await take(client, id, names);
      await record(client, now(), whoIs(request), 'added a seller', { name, names });
    });
    return reply(201, { id }, { Location: `/api/sellers/${id}` });
  });

  route(endpoints, putSeller, async ({ params: { id }, body }) => {
    await change(async (client) => {
      await locked(client, id);
      await take(client, id, body.names);
      await changes.writeSettings(client, { id, ...body, name: body.name.trim() });
    });
    return reply(204, undefined);
  });

  route(endpoints, deleteSeller, async ({ params: { id } }, { request }) => {
    await change(async (client) => {
      const { name, live: rules } = await locked(client, id);
      await changes.deleteSeller(client, id);
      await record(client, now(), whoIs(request), 'removed a seller', { name, rules });
    });
    return reply(204, undefined);
  });

  route(endpoints, mergeSeller, async ({ params: { id }, body: { into } }, { request }) => {
    if (into === id) throw isItself();
    await change(async (client) => {
      // Always in one order, so that two who merge the same two wait for each other.
      const [first, second] = await Promise.all([id, into].sort().map((one) => locked(client, one)));
      const [gone, stays] = first?.id === id ? [first, second] : [second, first];
      if (!gone || !stays) throw notFound(`seller ${id}`);
      await changes.giveTo(client, gone, stays);
      await changes.deleteSeller(client, id);
      await record(client, now(), whoIs(request), 'merged two sellers', { gone: gone.name, into: stays.name });
    });
    return reply(204, undefined);
  });

  route(endpoints, inviteToSeller, async ({ params: { id }, body: { name, email } }, { request }) => {
    const by = whoIs(request);
    const staff = await db.transaction(async (client) => {
      const seller = await locked(client, id);
      const made = await createStaff(client, {
        name,
        email,
        role: 'seller',
        sellerId: id,
        passwordHash: null,
        invitedBy: by,
      });
      if (!made) throw isThere(email);
      await record(client, now(), by, 'invited a seller’s colleague', { name, seller: seller.name });
      return made;
    });
    return reply(201, await inviteByLetter(services, staff), { 'Cache-Control': 'no-store' });
  });

  route(endpoints, listSellerPublications, async ({ params: { id }, query }) => {
    if (!(await sellerById(db, id))) throw notFound(`seller ${id}`);
    const { rows, more } = await changes.sellerEditions(db, id, query);
    const publications = rows.map(({ publishedAt, rules, ...row }) => ({
      ...row,
      rules: [...rules],
      publishedAt: publishedAt.toISOString(),
    }));
    return reply(200, { publications, more });
  });

  route(endpoints, restoreSellerPublication, async ({ params: { id, number }, body: { words } }, { request }) => {
    const by = whoIs(request);
    await change(async (client) => {
      const seller = await locked(client, id);
      const earlier = await changes.sellerEdition(client, id, number);
      if (!earlier) throw notFound(`publication ${number}`);
      await changes.publishRules(client, id, {
        rules: earlier.rules,
        at: now(),
        by: earlier.publishedBy,
        allowedBy: by,
      });
      await notifySeller(client, id, { answer: 'reverted', words: words.trim() });
      await record(client, now(), by, 'restored a seller’s publication', { seller: seller.name, publication: number });
    });
    return reply(204, undefined);
  });

  route(endpoints, answerSeller, async ({ params: { id }, body: { publish, askedAt, reason } }, { request }) => {
    const by = whoIs(request);
    await change(async (client) => {
      const seller = await locked(client, id);
      if (!seller.asked || seller.askedAt?.toISOString() !== new Date(askedAt).toISOString())
        throw isAskedAnew(seller.name);
      if (publish)
        await changes.publishRules(client, id, {
          rules: seller.asked,
          at: now(),
          by: seller.askedBy ?? by,
          allowedBy: by,
        });
      else await changes.writeAsked(client, id, null, reason?.trim() ?? '');
      await notifySeller(client, id, {
        answer: publish ? 'accepted' : 'declined',
        words: publish ? '' : (reason?.trim() ?? ''),
      });
      await record(client, now(), by, publish ? 'approved a seller’s rules' : 'declined a seller’s rules', {
        seller: seller.name,
        ...(publish ? {} : { reason: reason ?? '' }),
      });
    });
    return reply(204, undefined);
  });
}

const isTaken = (name: string) =>
  new ProblemError('name-taken', `“${name}” is another seller’s name. Take it from them first, or merge the two.`);

const isItself = () => new ProblemError('same-seller', 'A seller cannot be merged with themselves. Choose another.');

const isAskedAnew = (name: string) =>
  new ProblemError(
    'asked-anew',
    `${name} asked for something else meanwhile, or took it back. Look again at what they ask.`,
  );
