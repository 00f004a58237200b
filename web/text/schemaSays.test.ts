import { json } from '@codemirror/lang-json';
import { EditorState } from '@codemirror/state';
import { describe, expect, it } from 'vitest';
import { rulebookJsonSchema } from '#core/rulebook/jsonSchema.ts';
import { rangeAt, stepsOf, writingAt } from './places.ts';
import { offersFor, type Schema } from './schemaSays.ts';

const SCHEMA = rulebookJsonSchema() as Schema;

/** The text with the cursor at the bar, and what can be written there. */
function offered(marked: string): string[] {
  const position = marked.indexOf('|');
  const state = EditorState.create({ doc: marked.replace('|', ''), extensions: json() });
  const writing = writingAt(state, position);
  return writing ? offersFor(SCHEMA, writing) : [];
}

describe('what can be written', () => {
  it('keys of a rule that it has not yet', () => {
    expect(offered('{"rules": [{"id": "a", "name": "A", |}]}')).toEqual(['on', 'when', 'then', 'stopHere', 'gather']);
    expect(offered('{"rules": [{"id": "a", "sellers": true, |}]}')).toEqual(['on']);
  });
  it('every aspect', () => {
    expect(offered('{"rules": [{"then": {"|"}}]}')).toEqual(
      expect.arrayContaining(['control', 'price', 'express', 'notes', 'limits', 'cart']),
    );
  });
  it('the kinds of controls, and what a kind takes', () => {
    expect(offered('{"rules": [{"then": {"control": {"kind": "|"}}}]}')).toEqual(
      expect.arrayContaining(['"preorder"', '"waitlist"']),
    );
    const keys = offered('{"rules": [{"then": {"control": {"kind": "preorder", |}}}]}');
    expect(keys).toEqual(expect.arrayContaining(['cap', 'ships']));
    expect(keys).not.toContain('per');
  });
  it('values in an object that has other keys', () => {
    const offers = offered('{"rules": [{"id": "a", "then": {"express": "|", "colour": "green"}}]}');
    expect(offers).toEqual(['"show"', '"hide"']);
  });
  it('the operators of a fact alone', () => {
    expect(offered('{"rules": [{"when": {"all": [{"fact": "visitor.signedIn", "op": "|"}]}}]}')).toEqual(['"is"']);
  });
});

describe('places', () => {
  it('of faults, the innermost that is there', () => {
    const text = '{"rules": [{"id": "a", "then": {"express": "maybe"}}]}';
    const state = EditorState.create({ doc: text, extensions: json() });
    const at = (pointer: string) => {
      const { from, to } = rangeAt(state, stepsOf(pointer));
      return text.slice(from, to);
    };
    expect(at('/rules/0/then/express')).toBe('"maybe"');
    expect(at('/rules/0/then/control/kind')).toBe('{');
    expect(at('/rules/0/id')).toBe('"a"');
  });
});
