import { autocompletion, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import { json } from '@codemirror/lang-json';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { lintGutter, setDiagnostics } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { basicSetup } from 'codemirror';
import { useEffect, useImperativeHandle, useRef, type Ref } from 'react';
import type { ValidationIssue } from '#core/contract/validation.ts';
import { rulebookJsonSchema } from '#core/rulebook/jsonSchema.ts';
import { rangeAt, stepsOf, writingAt } from './places.ts';
import { offersFor, type Schema } from './schemaSays.ts';
import styles from './text.module.css';
import { STYLE_NONCE } from '../theme/nonce.ts';

export interface JsonEditorHandle {
  /** Puts the cursor where a JSON pointer leads. */
  readonly goTo: (pointer: string) => void;
}

interface JsonEditorProps {
  readonly ref: Ref<JsonEditorHandle>;
  readonly text: string;
  readonly faults: readonly ValidationIssue[];
  /** Whether it is there to be read only, which does not change. */
  readonly isReadOnly: boolean;
  readonly onChange: (text: string) => void;
}

/** A rulebook's text with faults marked and completion. */
export function JsonEditor({ ref, text, faults, isReadOnly, onChange }: JsonEditorProps) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(null);
  const first = useRef(text);
  const readOnly = useRef(isReadOnly);
  const notify = useRef(onChange);
  useEffect(() => {
    notify.current = onChange;
  }, [onChange]);

  useEffect(() => {
    if (!host.current) return;
    const made = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: first.current,
        extensions: [
          EditorView.cspNonce.of(STYLE_NONCE),
          basicSetup,
          EditorState.readOnly.of(readOnly.current),
          json(),
          syntaxHighlighting(HIGHLIGHT),
          LOOK,
          autocompletion({ override: [complete] }),
          lintGutter(),
          EditorView.contentAttributes.of({ 'aria-label': 'Rulebook as JSON', tabindex: '0' }),
          EditorView.updateListener.of(({ docChanged, state, transactions }) => {
            const isOurs = transactions.some((transaction) => transaction.isUserEvent('brought'));
            if (docChanged && !isOurs) notify.current(state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => {
      made.destroy();
    };
  }, []);

  useEffect(() => {
    const made = view.current;
    if (!made || made.state.doc.toString() === text) return;
    made.dispatch({ changes: { from: 0, to: made.state.doc.length, insert: text }, userEvent: 'brought' });
  }, [text]);

  useEffect(() => {
    const made = view.current;
    if (!made) return;
    const marks = faults.map(({ pointer, found, allowed }) => ({
      ...rangeAt(made.state, stepsOf(pointer)),
      severity: 'error' as const,
      message: `${found}; allowed is ${allowed}`,
    }));
    made.dispatch(setDiagnostics(made.state, marks));
  }, [faults, text]);

  useImperativeHandle(ref, () => ({
    goTo: (pointer) => {
      const made = view.current;
      if (!made) return;
      const { from, to } = rangeAt(made.state, stepsOf(pointer));
      made.dispatch({
        selection: { anchor: from, head: to },
        effects: EditorView.scrollIntoView(from, { y: 'center' }),
      });
      made.focus();
    },
  }));

  return <div ref={host} className={styles.editor} />;
}

const SCHEMA = rulebookJsonSchema() as Schema;

function complete({ state, pos, explicit }: CompletionContext): CompletionResult | null {
  const writing = writingAt(state, pos);
  if (!writing) return null;
  const isQuoted = state.sliceDoc(writing.from, writing.from + 1) === '"';
  if (!explicit && !isQuoted) return null;
  const colon = writing.at === 'value' || /^\s*:/.test(state.sliceDoc(writing.to, writing.to + 20)) ? '' : ': ';
  const options = offersFor(SCHEMA, writing).map((offer) => ({
    label: offer.replace(/^"|"$/g, ''),
    type: writing.at === 'key' ? 'property' : 'enum',
    // With its quotes, whichever of them are there already.
    apply: (view: EditorView) => {
      const insert = (writing.at === 'key' ? JSON.stringify(offer) : offer) + colon;
      const to = Math.max(writing.to, view.state.selection.main.head);
      view.dispatch({
        changes: { from: writing.from, to, insert },
        selection: { anchor: writing.from + insert.length },
        userEvent: 'input.complete',
      });
    },
  }));
  return options.length > 0 ? { from: writing.from + (isQuoted ? 1 : 0), options } : null;
}

const HIGHLIGHT = HighlightStyle.define([
  { tag: tags.propertyName, color: 'var(--outcome)' },
  { tag: tags.string, color: 'var(--goods)' },
  { tag: [tags.number, tags.bool, tags.null], color: 'var(--time)' },
]);

const LOOK = EditorView.theme({
  '&': { height: '100%', fontSize: '13px', backgroundColor: 'var(--sheet)', color: 'var(--ink)' },
  '&.cm-focused': { outline: 'none' },
  '.cm-content, .cm-gutters': { fontFamily: 'var(--font-code)' },
  '.cm-gutters': { backgroundColor: 'var(--sheet-quiet)', color: 'var(--ink-soft)', border: 'none' },
  '.cm-activeLine, .cm-activeLineGutter': { backgroundColor: 'color-mix(in srgb, var(--petrol) 7%, transparent)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground': {
    backgroundColor: 'var(--time-fill)',
  },
  '.cm-lintRange-error': {
    backgroundImage: 'none',
    textDecoration: 'underline wavy var(--loss)',
    textUnderlineOffset: '3px',
  },
  '.cm-tooltip': { backgroundColor: 'var(--sheet)', border: '1px solid var(--hairline)', color: 'var(--ink)' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--petrol)', color: 'var(--on-petrol)' },
  '.cm-diagnostic-error': { borderLeftColor: 'var(--loss)' },
});
