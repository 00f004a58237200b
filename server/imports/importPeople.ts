import { isDeepStrictEqual } from 'node:util';
import type { Queryable } from '../db/database.ts';
import { BadCell, cell, required, roles, type RoleCell } from './cells.ts';
import { lockImports } from './catalogImportQueries.ts';
import { inBatches, noticesOf, type ImportRun, type Outcome } from './importRun.ts';
import { archiveOtherPeople, personStates, upsertPeople, type PersonState } from './peopleImportQueries.ts';
import type { Row } from './rows.ts';

const PEOPLE_COLUMNS = ['customer_id', 'email', 'name', 'phone', 'roles'];

/** Brings rows of customers in, to be run in a transaction. Bad rows are reported, the others go in. */
export async function importPeople(db: Queryable, run: ImportRun): Promise<Outcome> {
  await lockImports(db);
  const outcome: Outcome = {
    created: 0,
    changed: 0,
    archived: 0,
    refused: [],
    notices: noticesOf(run, PEOPLE_COLUMNS),
  };
  await inBatches(run, async (rows) => {
    const ids = rows.flatMap(({ cells }) => cells.customer_id ?? []);
    const before = new Map((await personStates(db, ids)).map((person) => [person.customerId, person]));
    const after = new Map(before);
    for (const row of rows) {
      try {
        const person = nextPerson(after, row, run);
        after.set(person.customerId, person);
      } catch (error) {
        if (!(error instanceof BadCell)) throw error;
        outcome.refused.push(error.at(row));
      }
    }
    const written = [...after.values()].filter((person) => !isDeepStrictEqual(person, before.get(person.customerId)));
    await upsertPeople(db, written);
    const created = written.filter(({ customerId }) => !before.has(customerId)).length;
    outcome.created += created;
    outcome.changed += written.length - created;
  });
  if (run.mode === 'replace') {
    const listed = run.rows.flatMap(({ cells }) => cells.customer_id ?? []);
    outcome.archived = await archiveOtherPeople(db, listed, run.at);
  }
  return outcome;
}

function nextPerson(known: ReadonlyMap<string, PersonState>, row: Row, { shop }: ImportRun): PersonState {
  const customerId = required(row, 'customer_id');
  const before = known.get(customerId);
  const email = cell(row, 'email');
  if (email && !/^[^\s@]+@[^\s@]+$/.test(email)) throw new BadCell('email', `“${email}” is not an e-mail address`);
  const name = cell(row, 'name');
  const phone = cell(row, 'phone')?.replace(/[\s().-]/g, '');
  if (phone && !/^\+[1-9]\d{5,14}$/.test(phone))
    throw new BadCell('phone', `“${phone}” is not a number with its country, such as +351210000000`);
  const held = roles(row, 'roles', shop.zone)?.sort(byRole);
  return {
    customerId,
    email: email === undefined ? (before?.email ?? null) : email || null,
    name: name === undefined ? (before?.name ?? null) : name || null,
    phone: phone === undefined ? (before?.phone ?? null) : phone || null,
    roles: held ?? before?.roles ?? [],
    archived: false,
  };
}

const byRole = (a: RoleCell, b: RoleCell) => {
  const key = ({ role, from, until }: RoleCell) => JSON.stringify([role, from ?? '', until ?? '']);
  return key(a) < key(b) ? -1 : 1;
};
