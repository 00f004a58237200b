import { readFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import ts from 'typescript';
import { expect, it } from 'vitest';

/** Lines of a function that belong to neither a function within it nor its markup. */
const MOST_LINES = 80;

/** Functions that are longer, with the reason. */
const LONGER: Readonly<Record<string, string>> = {
  'storefront/picker/reading/controls.ts rankedControls': 'one table of signs, each with its weight',
};

const isFunction = (node: ts.Node): node is ts.FunctionLikeDeclaration & { body: ts.Node } =>
  ts.isFunctionLike(node) && 'body' in node && node.body !== undefined;
const isMarkup = (node: ts.Node): boolean =>
  ts.isJsxElement(node) || ts.isJsxSelfClosingElement(node) || ts.isJsxFragment(node);

/** Finds functions that are too long, by file and name. */
function longFunctions(file: string): string[] {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
  const lineAt = (position: number) => source.getLineAndCharacterOfPosition(position).line;
  const linesOf = (node: ts.Node) => lineAt(node.end) - lineAt(node.getStart()) + 1;
  const linesWithin = (node: ts.Node): number => {
    let lines = 0;
    ts.forEachChild(node, (child) => {
      lines += isFunction(child) || isMarkup(child) ? linesOf(child) - 1 : linesWithin(child);
    });
    return lines;
  };
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    ts.forEachChild(node, visit);
    if (!isFunction(node) || linesOf(node) - linesWithin(node.body) <= MOST_LINES) return;
    const named = node.name ?? (ts.isVariableDeclaration(node.parent) ? node.parent.name : undefined);
    found.push(`${file} ${named?.getText() ?? `at line ${lineAt(node.getStart()) + 1}`}`);
  };
  visit(source);
  return found;
}

it('no function has more than 80 lines of its own', () => {
  const files = execFileSync('git', ['ls-files', '*.ts', '*.tsx', '*.mjs'], { encoding: 'utf8' }).trim().split('\n');
  const production = files.filter((file) => !/^(tests|bench)\/|\.(test|spec)\.tsx?$/.test(file));
  expect(production.length).toBeGreaterThan(500);
  expect(production.flatMap(longFunctions)).toEqual(Object.keys(LONGER));
});
