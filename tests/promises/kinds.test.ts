import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { CONTROL_KINDS } from '#core/controls/controls.ts';

/** Directories that must ask a control's definition; its own file and its dialog may know its kind. */
const SOURCES = [
  'core',
  'server',
  'storefront/script',
  'storefront/picker',
  'web',
  'cli',
  'client',
  'shop',
  'demo',
  'bench',
];
const OWN = 'core/controls/';

it('nothing compares the kind of a control with a name, but for its definition and dialog', () => {
  const comparison = new RegExp(
    `kind\\b.*[!=]==?\\s*'(${CONTROL_KINDS.join('|')})'|case '(${CONTROL_KINDS.join('|')})'`,
  );
  const files = SOURCES.flatMap((folder) =>
    readdirSync(folder, { recursive: true, encoding: 'utf8' }).map((name) => `${folder}/${name}`),
  ).filter((file) => /\.tsx?$/.test(file) && !file.startsWith(OWN) && !file.includes('.test.'));
  const found = files.flatMap((file) =>
    readFileSync(file, 'utf8')
      .split('\n')
      .flatMap((line, index) => (comparison.test(line) ? [`${file}:${index + 1}: ${line.trim()}`] : [])),
  );
  expect(files.length).toBeGreaterThan(500);
  expect(found).toEqual([]);
});
