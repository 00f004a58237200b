import { isDeepStrictEqual } from 'node:util';
import type { ShopFacts } from '#core/model/subject.ts';
import { BadCell, cell, readRow, refusals, required, roles, type RoleCell } from './cells.ts';
import {
  differences,
  isOlderUnderWay,
  lockImports,
  rememberBefore,
  takeChanges,
  type Change,
  type ImportTarget,
} from './importTarget.ts';
import {
  archivePeople,
  countLeftOutPeople,
  countPeople,
  leftOutPeople,
  mergedAmong,
  peopleMade,
  personStates,
  upsertPeople,
  type PersonState,
} from './peopleImportQueries.ts';
import type { Refusal, Row } from './rows.ts';

const COLUMNS_OF = { email: 'email', name: 'name', phone: 'phone', roles: 'roles', archived: 'archived' } as const;

/** Rows archived or restored in one transaction. */
const AT_ONCE = 500;

/** Customers and their roles: a row a customer. */
export const peopleTarget: ImportTarget = {
  keyColumn: 'customer_id',

  async write(client, all, { shop, writer: { order, importId } }) {
    await lockImports(client);
    // Rows of people erased since the file was read are blank.
    const rows = all.filter(({ cells }) => Object.keys(cells).length > 0);
    const ids = rows.flatMap(({ cells }) => cells.customer_id ?? []);
    const merged = await mergedAmong(client, ids);
    const known = (await personStates(client, ids)).filter(({ customerId }) => !merged.has(customerId));
    const before = new Map(known.map((person) => [person.customerId, person]));
    const after = new Map(before);
    const kept = new Set<string>();
    const refused: Refusal[] = [];
    for (const row of rows) {
      try {
        const person = nextPerson(after, row, shop);
        if (person.written > order || merged.has(person.customerId)) kept.add(person.customerId);
        else after.set(person.customerId, person);
      } catch (error) {
        refused.push(...refusals(error, row));
      }
    }
    const changed = [...after.values()].filter((person) => !isDeepStrictEqual(person, before.get(person.customerId)));
    const written = (await isOlderUnderWay(client, order)) ? [...after.values()] : changed;
    if (importId !== null) {
      const was = written.flatMap(({ customerId }) => before.get(customerId) ?? []);
      await rememberBefore(
        client,
        importId,
        'customer',
        was.map((person) => ({ key: person.customerId, before: person })),
      );
    }
    await upsertPeople(
      client,
      written.map((person) => ({ ...person, written: Math.max(person.written, order) })),
    );
    const created = changed.filter(({ customerId }) => !before.has(customerId)).length;
    const examples = (limit: number) =>
      changed.slice(0, limit).map((person) => {
        const was = before.get(person.customerId);
        return {
          key: person.customerId,
          title: person.name ?? person.email ?? '',
          isNew: was === undefined || was.archived,
          fields: differences(was, person, COLUMNS_OF),
        };
      });
    return { created, changed: changed.length - created, kept: kept.size, refused, examples };
  },

  async archiveOthers(client, { importId, order }, at) {
    await lockImports(client);
    const others = await personStates(client, await leftOutPeople(client, { importId, order, limit: AT_ONCE }));
    const was = others.map((person) => ({ key: person.customerId, before: person }));
    await rememberBefore(client, importId, 'customer', was);
    return archivePeople(
      client,
      others.map(({ customerId }) => customerId),
      { order, at },
    );
  },

  countOthers: countLeftOutPeople,
  countAll: countPeople,

  async undo(client, { undoes, itsOrder, order }, at) {
    await lockImports(client);
    const made = await peopleMade(client, { importId: undoes, by: itsOrder, limit: AT_ONCE });
    if (made.length > 0) {
      await archivePeople(client, made, { order, at });
      return made.length;
    }
    const changes = (await takeChanges(client, undoes, 'customer', AT_ONCE)) as Change<PersonState>[];
    const now = await personStates(
      client,
      changes.map(({ key }) => key),
    );
    const unchanged = now.filter(({ written }) => written === itsOrder);
    const beforeOf = (id: string) => changes.find(({ key }) => key === id)?.before;
    const back = unchanged.flatMap(({ customerId }) => beforeOf(customerId) ?? []);
    await upsertPeople(
      client,
      back.map((person) => ({ ...person, written: order })),
    );
    const gone = unchanged.filter(({ customerId }) => beforeOf(customerId)?.archived ?? true);
    await archivePeople(
      client,
      gone.map(({ customerId }) => customerId),
      { order, at },
    );
    return changes.length;
  },
};

function nextPerson(known: ReadonlyMap<string, PersonState>, row: Row, shop: ShopFacts): PersonState {
  return readRow((of) => {
    const customerId = of(() => required(row, 'customer_id')) ?? '';
    const before = known.get(customerId);
    const email = of(() => emailOf(row));
    const name = of(() => cell(row, 'name'));
    const phone = of(() => phoneOf(row));
    const memberships = of(() => roles(row, 'roles', shop.zone)?.sort(byRole));
    return {
      customerId,
      email: email === undefined ? (before?.email ?? null) : email || null,
      name: name === undefined ? (before?.name ?? null) : name || null,
      phone: phone === undefined ? (before?.phone ?? null) : phone || null,
      roles: memberships ?? before?.roles ?? [],
      archived: false,
      written: before?.written ?? 0,
    };
  });
}

function emailOf(row: Row): string | undefined {
  const email = cell(row, 'email');
  if (email && !/^[^\s@]+@[^\s@]+$/.test(email)) throw new BadCell('email', `“${email}” is not an e-mail address`);
  return email;
}

function phoneOf(row: Row): string | undefined {
  const phone = cell(row, 'phone')?.replace(/[\s().-]/g, '');
  if (phone && !/^\+[1-9]\d{5,14}$/.test(phone))
    throw new BadCell('phone', `“${phone}” is not a number with its country, such as +351210000000`);
  return phone;
}

const byRole = (a: RoleCell, b: RoleCell) => {
  const key = ({ role, from, until }: RoleCell) => JSON.stringify([role, from ?? '', until ?? '']);
  return key(a) < key(b) ? -1 : 1;
};
