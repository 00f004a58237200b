import { ensureSyntaxTree, syntaxTree } from '@codemirror/language';
import type { EditorState } from '@codemirror/state';
import type { SyntaxNode } from '@lezer/common';

/** Steps from the document's root to a place in it, as in a JSON pointer (RFC 6901). */
export type Steps = readonly string[];

export const stepsOf = (pointer: string): Steps =>
  pointer
    .split('/')
    .slice(1)
    .map((step) => step.replace(/~1/g, '/').replace(/~0/g, '~'));

/** Time limit in ms for parsing a text; the unparsed rest has no places. */
const READ_MS = 1000;

const treeOf = (state: EditorState) => ensureSyntaxTree(state, state.doc.length, READ_MS) ?? syntaxTree(state);

/** Finds the position of a pointer's value in the text, or of the innermost value around it. */
export function rangeAt(state: EditorState, steps: Steps): { from: number; to: number } {
  let node = treeOf(state).topNode.firstChild;
  for (const step of steps) {
    const inner = node && childOf(state, node, step);
    if (!inner) break;
    node = inner;
  }
  if (!node) return { from: 0, to: 0 };
  // An object or a list is marked at its opening alone.
  const isLong = node.name === 'Object' || node.name === 'Array';
  return { from: node.from, to: isLong ? node.from + 1 : node.to };
}

function childOf(state: EditorState, node: SyntaxNode, step: string): SyntaxNode | null {
  if (node.name === 'Object') {
    const property = node.getChildren('Property').find((candidate) => keyOf(state, candidate) === step);
    return property?.lastChild ?? null;
  }
  return node.name === 'Array' ? (itemsOf(node)[Number(step)] ?? null) : null;
}

const VALUES = /^(Object|Array|String|Number|True|False|Null)$/;
function itemsOf(node: SyntaxNode): SyntaxNode[] {
  const items: SyntaxNode[] = [];
  for (let child = node.firstChild; child; child = child.nextSibling) if (VALUES.test(child.name)) items.push(child);
  return items;
}

function keyOf(state: EditorState, property: SyntaxNode): string {
  const name = property.getChild('PropertyName');
  return name ? unquoted(state.sliceDoc(name.from, name.to)) : '';
}

const unquoted = (text: string) => text.replace(/^"|"$/g, '');

/** Describes the input at a position: a key or a value, with its path and the text so far. */
export interface Writing {
  readonly at: 'key' | 'value';
  readonly steps: Steps;
  /** Keys that the object has already. */
  readonly keys: readonly string[];
  /** The values of the object's keys that are texts: they tell which kind of thing it is. */
  readonly known: Readonly<Record<string, string>>;
  readonly from: number;
  readonly to: number;
}

export function writingAt(state: EditorState, position: number): Writing | null {
  const node = treeOf(state).resolveInner(position, -1);
  const isText = node.name === 'PropertyName' || node.name === 'String';
  const [from, to] = isText ? [node.from, Math.max(node.to, position)] : [position, position];
  const object = closest(node, 'Object');
  const property = closest(node, 'Property');
  const isInProperty = property && object && property.from >= object.from;
  if (node.name === 'PropertyName' || (!isInProperty && node.name !== 'String' && object && !isInList(node))) {
    return object && { at: 'key', steps: stepsTo(state, object), ...knownOf(state, object), from, to };
  }
  const steps = isInProperty ? [...stepsTo(state, property.parent), keyOf(state, property)] : stepsTo(state, node);
  const list = closest(node, 'Array');
  const inList = list && (!property || list.from > property.from);
  const place = inList ? [...stepsTo(state, list), '0'] : steps;
  return { at: 'value', steps: place, ...(object ? knownOf(state, object) : { keys: [], known: {} }), from, to };
}

const isInList = (node: SyntaxNode) => {
  const list = closest(node, 'Array');
  const object = closest(node, 'Object');
  return list !== null && (object === null || list.from > object.from);
};

function closest(node: SyntaxNode | null, name: string): SyntaxNode | null {
  for (let up = node; up; up = up.parent) if (up.name === name) return up;
  return null;
}

function stepsTo(state: EditorState, node: SyntaxNode | null): Steps {
  const steps: string[] = [];
  for (let up = node; up?.parent; up = up.parent) {
    if (up.parent.name === 'Property') steps.unshift(keyOf(state, up.parent));
    else if (up.parent.name === 'Array')
      steps.unshift(String(itemsOf(up.parent).findIndex((item) => item.from === up.from)));
  }
  return steps;
}

function knownOf(state: EditorState, object: SyntaxNode): Pick<Writing, 'keys' | 'known'> {
  const properties = object.getChildren('Property');
  const texts = properties.flatMap((property) =>
    property.lastChild?.name === 'String'
      ? [[keyOf(state, property), unquoted(state.sliceDoc(property.lastChild.from, property.lastChild.to))] as const]
      : [],
  );
  return { keys: properties.map((property) => keyOf(state, property)), known: Object.fromEntries(texts) };
}
