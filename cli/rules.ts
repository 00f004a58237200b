import { isRule } from '#core/rulebook/entries.ts';
import { readFile, writeFile } from 'node:fs/promises';
import { parse } from '#core/contract/validation.ts';
import { changesBetween, type Change } from '#core/rulebook/changes.ts';
import { type Entry, Rulebook } from '#core/rulebook/rulebook.ts';
import { fullSentence, ruleName } from '#core/rulebook/sentence.ts';
import { unfinished } from '#core/rulebook/unfinished.ts';
import type { Outcome } from './output.ts';
import { CommandError, type Service } from './service.ts';

/** Source of rules: the live edition, or the draft. */
export type Side = 'live' | 'draft';

interface Fault {
  readonly pointer: string;
  readonly found: string;
  readonly allowed: string;
}

/** @throws {CommandError} where there is no such file, or it is no JSON */
async function documentIn(file: string): Promise<unknown> {
  const text = await readFile(file, 'utf8').catch(() => {
    throw new CommandError(`${file} cannot be read.`);
  });
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new CommandError(`${file} is no JSON: ${error instanceof Error ? error.message : 'it cannot be read'}`);
  }
}

async function read(file: string): Promise<{ rulebook: Rulebook | null; faults: readonly Fault[] }> {
  const result = parse(Rulebook, await documentIn(file));
  if (!result.ok) return { rulebook: null, faults: result.faults };
  const rulebook = result.value;
  const faults = rulebook.rules.flatMap((rule, index) =>
    isRule(rule) && rule.on && unfinished(rule).length > 0
      ? [
          {
            pointer: `/rules/${index}`,
            found: `an unfinished rule: ${fullSentence(rule)}`,
            allowed: 'a rule with nothing left to choose',
          },
        ]
      : [],
  );
  return { rulebook, faults };
}

const faultLines = (file: string, faults: readonly Fault[]) =>
  faults.map(({ pointer, found, allowed }) => `${file}: ${pointer || 'the whole'} has ${found}; allowed is ${allowed}`);

/** The rules of a file, which must be right. @throws {CommandError} */
async function rightRules(file: string): Promise<Rulebook> {
  const { rulebook, faults } = await read(file);
  if (!rulebook || faults.length > 0) throw new CommandError(faultLines(file, faults).join('\n'));
  return rulebook;
}

/** Whether a file of rules is right; asks nobody. */
export async function check(file: string): Promise<Outcome> {
  const { rulebook, faults } = await read(file);
  const count = rulebook?.rules.length ?? 0;
  return {
    code: faults.length > 0 ? 1 : 0,
    json: { file, rules: count, faults },
    lines:
      faults.length > 0
        ? faultLines(file, faults)
        : [`${file}: ${count} ${count === 1 ? 'rule' : 'rules'}, all right.`],
  };
}

const NOTHING: Rulebook = { format: 'understudy-rulebook', version: 1, rules: [] };

async function rulesOf(service: Service, side: Side): Promise<{ rulebook: Rulebook; etag: string }> {
  if (side === 'draft') {
    const { body, etag } = await service.call('GET /api/rulebook');
    return { rulebook: body, etag };
  }
  const { body } = await service.call('GET /api/editions', { query: { limit: 1 } });
  const [newest] = body.editions;
  if (!newest) return { rulebook: NOTHING, etag: '' };
  const edition = await service.call('GET /api/editions/{number}', { params: { number: newest.number } });
  return { rulebook: edition.body.rulebook, etag: '' };
}

/** Takes the rules as they are; to a file, or to the output. */
export async function pull(service: Service, side: Side, file: string | undefined): Promise<Outcome> {
  const { rulebook } = await rulesOf(service, side);
  const text = JSON.stringify(rulebook, null, 2);
  if (file === undefined) return { code: 0, json: rulebook, lines: [text] };
  await writeFile(file, `${text}\n`);
  const count = rulebook.rules.length;
  return {
    code: 0,
    json: { file, rules: count },
    lines: [`${file}: ${count} ${count === 1 ? 'rule' : 'rules'} of what is ${side}.`],
  };
}

const name = (entry: Entry) => (isRule(entry) ? (entry.name ?? entry.id) : ruleName(entry));

function changeLines(change: Change): string[] {
  switch (change.kind) {
    case 'added':
      return [`+ ${name(change.now)}: ${fullSentence(change.now)}`];
    case 'removed':
      return [`- ${name(change.was)}: ${fullSentence(change.was)}`];
    case 'reworded':
      return [`~ ${name(change.now)}`, `    was  ${fullSentence(change.was)}`, `    is   ${fullSentence(change.now)}`];
    case 'renamed':
      return [`~ ${name(change.was)} is called ${name(change.now)}`];
    case 'switchedOn':
      return [`~ ${name(change.now)} is switched on`];
    case 'switchedOff':
      return [`~ ${name(change.now)} is switched off`];
    case 'moved':
      return [`~ ${name(change.now)} is moved from place ${change.from} to ${change.to}`];
  }
}

/** Shows the changes that a file would make to the rules. */
export async function diff(service: Service, side: Side, file: string): Promise<Outcome> {
  const after = await rightRules(file);
  const { rulebook: before } = await rulesOf(service, side);
  const changes = changesBetween(before, after);
  return {
    code: changes.length > 0 ? 1 : 0,
    json: { file, against: side, changes },
    lines: changes.length > 0 ? changes.flatMap(changeLines) : [`${file} says what is ${side}.`],
  };
}

interface PushWays {
  readonly publish: boolean;
  readonly note: string | undefined;
  /** Also over changes of the draft that nobody has published. */
  readonly overDraft: boolean;
}

/** Makes a file the draft, and live where that is asked. Nobody's unpublished work is lost unless it is said so. */
export async function push(service: Service, file: string, { publish, note, overDraft }: PushWays): Promise<Outcome> {
  const rulebook = await rightRules(file);
  const [draft, live] = await Promise.all([rulesOf(service, 'draft'), rulesOf(service, 'live')]);
  const unpublished = changesBetween(live.rulebook, draft.rulebook);
  const isInWay = unpublished.length > 0 && changesBetween(draft.rulebook, rulebook).length > 0;
  if (isInWay && !overDraft) {
    return {
      code: 1,
      json: { file, pushed: false, unpublished },
      lines: [
        'The draft holds changes that nobody has published, so nothing was pushed. Publish or drop them, or push with --over-draft:',
        ...unpublished.flatMap(changeLines),
      ],
    };
  }
  const { etag } = await service.call('PUT /api/rulebook', {
    body: rulebook,
    ifMatch: draft.etag,
  });
  const changes = changesBetween(live.rulebook, rulebook);
  const lines = [
    `The draft says what ${file} says: ${changes.length} ${changes.length === 1 ? 'change' : 'changes'} to what is live.`,
  ];
  if (!publish || changes.length === 0)
    return { code: 0, json: { file, pushed: true, published: null, changes }, lines };
  const body = note === undefined ? {} : { note };
  const edition = await service.call('POST /api/editions', {
    body,
    ...(etag ? { ifMatch: etag } : {}),
  });
  return {
    code: 0,
    json: { file, pushed: true, published: edition.body.number, changes },
    lines: [...lines, `Edition ${edition.body.number} is live.`],
  };
}
