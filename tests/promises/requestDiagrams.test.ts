import { expect, it } from 'vitest';
import type { Machine, Transition } from '#core/requests/machine.ts';
import { REQUESTS, type RequestKind } from '#core/requests/requests.ts';
import { EVENTS } from '#core/texts/messageEvents.ts';

const TITLES: Readonly<Record<RequestKind, string>> = {
  waitlist: 'A place on a waitlist',
  preorder: 'A reservation of a pre-order',
  enquiry: 'An enquiry',
  quote: 'A quote',
  quotePart: 'A part of a quote',
};

const INTRODUCTION = `# Lifecycles of requests

Written from the tables in \`core/requests/\` by \`tests/promises/requestDiagrams.test.ts\`, which fails when this page is
stale; \`npx vitest run tests/promises/requestDiagrams.test.ts -u\` writes it anew.

Each table names the commands of a kind of request: who may give one, in which states, where it leads, and its effects.
The server gives commands through \`server/requests/command.ts\`, and buttons ask the same tables (\`isAllowed\`).
`;

type Row = Transition<string>;
const statesOf = ({ from, to }: Row) =>
  from.flatMap((before) => to.map((after) => [before ?? '[*]', after === 'same' ? before : after] as const));

function effectWords({ effects }: Row): string {
  const words = effects.map(({ when, ...effect }) => {
    const [[what, which]] = Object.entries(effect) as [[string, string]];
    const said =
      what === 'letter'
        ? `letter \`${which}\` to the ${EVENTS[which as keyof typeof EVENTS].audience}`
        : `${what}: ${which}`;
    return when ? `${said} (from ${when.join(', ')})` : said;
  });
  return words.join('; ') || '—';
}

function section(title: string, { transitions }: Machine<string, string>): string {
  const rows = Object.entries(transitions);
  const arrows = rows.flatMap(([command, row]) =>
    statesOf(row).map(([before, after]) => `  ${before} --> ${after}: ${command}`),
  );
  const table = rows.map(
    ([command, row]) =>
      `| ${command} | ${row.by.join(', ')} | ${row.from.map((state) => state ?? '(new)').join(', ')} | ${row.to.join(', ')} | ${effectWords(row)} |`,
  );
  return [
    `## ${title}`,
    ['```mermaid', 'stateDiagram-v2', ...arrows, '```'].join('\n'),
    ['| command | by | from | to | effects |', '| --- | --- | --- | --- | --- |', ...table].join('\n'),
  ].join('\n\n');
}

it('docs/requests.md shows the lifecycles as they are', async () => {
  const machines = REQUESTS as unknown as Readonly<Record<RequestKind, Machine<string, string>>>;
  const sections = (Object.keys(REQUESTS) as RequestKind[]).map((kind) => section(TITLES[kind], machines[kind]));
  await expect(`${[INTRODUCTION.trimEnd(), ...sections].join('\n\n')}\n`).toMatchFileSnapshot('../../docs/requests.md');
});
