import { Button } from '@mui/material';
import stringify from 'json-stringify-pretty-compact';
import { useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { parse, type ValidationIssue } from '#core/contract/validation.ts';
import { Rulebook } from '#core/rulebook/rulebook.ts';
import { useMay } from '../session/useMay.ts';
import { Allowed } from '../session/Allowed.tsx';
import { withMoment } from '../shared/useMoment.ts';
import { SavingNote } from '../draft/SavingNote.tsx';
import { useDraft } from '../draft/useDraft.ts';
import { FileButton } from '../shared/FileButton.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { saveAs } from '../shared/save.ts';
import { JsonEditor, type JsonEditorHandle } from './JsonEditor.tsx';
import styles from './text.module.css';

/** Finds problems of a rulebook's text; null if it is valid. */
type Read = { readonly rulebook: Rulebook } | { readonly faults: readonly ValidationIssue[] };

function read(text: string): Read {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    const message = error instanceof Error ? error.message : 'this is not JSON';
    return { faults: [{ pointer: '', found: message, allowed: 'JSON (RFC 8259)' }] };
  }
  const parsed = parse(Rulebook, value);
  return parsed.ok ? { rulebook: parsed.value } : { faults: parsed.faults };
}

const written = (rulebook: Rulebook) => `${stringify(rulebook, { maxLength: 110 })}\n`;

/** The draft as the document that it is: to read, to change, to bring in and to take elsewhere. */
export function TextPage() {
  const { rulebook, error, reload, saving, change, undo } = useDraft();
  if (error) return <LoadFailed error={error} retry={reload} />;
  if (!rulebook) return <main className={styles.page} aria-busy="true" />;
  return <TextOf rulebook={rulebook} saving={saving.state} change={change} undo={undo} />;
}

interface TextOfProps {
  readonly rulebook: Rulebook;
  readonly saving: string;
  readonly change: (next: Rulebook, stroke?: string) => void;
  readonly undo: (() => void) | null;
}

function TextOf({ rulebook, saving, change, undo }: TextOfProps) {
  const [search] = useSearchParams();
  const mayChange = useMay('draft');
  const editor = useRef<JsonEditorHandle>(null);
  const [text, setText] = useState(() => written(rulebook));
  const [brought, setBrought] = useState<string | null>(null);
  // Changes made elsewhere, such as by undo, replace the text; text written here keeps its formatting.
  const [shown, setShown] = useState(rulebook);
  if (shown !== rulebook) {
    setShown(rulebook);
    setText(written(rulebook));
  }
  const faults = useMemo(() => {
    const result = read(text);
    return 'faults' in result ? result.faults : [];
  }, [text]);

  const take = (next: string, stroke?: string) => {
    setText(next);
    const result = read(next);
    if ('rulebook' in result) {
      setShown(result.rulebook);
      change(result.rulebook, stroke);
    }
    return result;
  };
  const bringIn = async (file: File) => {
    const result = take(await file.text());
    setBrought(
      'rulebook' in result
        ? `${file.name}: ${result.rulebook.rules.length} rules are in the draft. Nothing is live before you publish.`
        : `${file.name} has ${result.faults.length} faults, so the draft was left as it was. They are marked below.`,
    );
  };
  return (
    <main className={styles.page}>
      <header className={styles.head}>
        <h1>The rulebook as text</h1>
        <span className={styles.state} role="status">
          {faults.length > 0
            ? `${faults.length} fault${faults.length === 1 ? '' : 's'}: not saved until they are fixed`
            : saving === 'saved'
              ? 'saved in the draft'
              : 'saving…'}
        </span>
        <Allowed permission="draft" quiet>
          <FileButton variant="outlined" accept=".json,application/json" onChoose={(file) => void bringIn(file)}>
            Import
          </FileButton>
        </Allowed>
        <Button
          variant="outlined"
          onClick={() => {
            saveAs('rulebook.json', 'application/json', text);
          }}
        >
          Download
        </Button>
        <Button variant="outlined" component={Link} to={withMoment('/rules', search)}>
          As sentences
        </Button>
      </header>
      <SavingNote />
      {brought !== null && (
        <p className={styles.brought} role="status">
          {brought}{' '}
          {undo && (
            <Button
              size="small"
              onClick={() => {
                undo();
                setBrought(null);
              }}
            >
              Undo
            </Button>
          )}
        </p>
      )}
      <div className={styles.columns}>
        <JsonEditor
          ref={editor}
          text={text}
          faults={faults}
          isReadOnly={!mayChange}
          onChange={(next) => {
            setBrought(null);
            take(next, 'text');
          }}
        />
        <aside className={styles.faults} aria-label="Faults">
          {faults.length === 0 ? (
            <p>
              A valid rulebook. Its schema is at <a href="/api/rulebook.schema.json">/api/rulebook.schema.json</a>. Ctrl
              Space offers what can be written at the cursor.
            </p>
          ) : (
            <ol>
              {faults.map(({ pointer, found, allowed }) => (
                <li key={`${pointer} ${allowed}`}>
                  <button
                    type="button"
                    onClick={() => {
                      editor.current?.goTo(pointer);
                    }}
                  >
                    <code>{pointer || 'the whole'}</code>
                    <span>
                      {found}; allowed is {allowed}
                    </span>
                  </button>
                </li>
              ))}
            </ol>
          )}
        </aside>
      </div>
    </main>
  );
}
