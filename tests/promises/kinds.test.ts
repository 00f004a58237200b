import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { SHAPES } from '#core/controls/control.ts';
import { CONTROL_KINDS, CONTROLS } from '#core/controls/controls.ts';

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

it('every shape of a control is drawn, and stands for one kind', () => {
  const css = readFileSync('web/proof/proof.module.css', 'utf8');
  expect(SHAPES.filter((shape) => !css.includes(`\n.${shape} {`))).toEqual([]);
  const shapes = CONTROLS.map(({ shape }) => shape);
  expect(new Set(shapes).size).toBe(shapes.length);
});

it.each(CONTROLS.map((control) => [control.kind, control] as const))(
  'the texts of %s are its own, among them its default label',
  (_kind, { defaultLabel, texts = {} }) => {
    if (defaultLabel !== null) expect(Object.keys(texts)).toContain(defaultLabel);
    for (const text of Object.values(texts)) for (const words of Object.values(text)) expect(words.trim()).not.toBe('');
  },
);
