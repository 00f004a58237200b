import { Button, TextField as Field } from '@mui/material';
import { useState } from 'react';
import type { ShopText } from '#core/contract/textCalls.ts';
import { textFault } from '#core/texts/messages.ts';
import { directionOf } from '#core/texts/shopTexts.ts';
import { Allowed } from '../session/Allowed.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { Toast } from '../shared/Toast.tsx';
import styles from './texts.module.css';
import { useSaveText } from './useTexts.ts';

interface TextFieldProps {
  readonly text: ShopText;
  readonly locale: string;
}

/** One text in one language: the default stands in the empty field, and is overwritten by typing. Saved when it is left. */
export function TextField({ text: { key, default: ours, custom, placeholders }, locale }: TextFieldProps) {
  const saved = custom[locale] ?? '';
  const standard = ours[locale] ?? '';
  const [text, setText] = useState(saved);
  const save = useSaveText(key);
  /** Text before the last change, for undo. */
  const [before, setBefore] = useState<string | null>(null);
  const fault = text.trim() === '' ? null : textFault(text, placeholders);
  const keep = (next: string) => {
    setText(next);
    if (next.trim() === saved || (next.trim() !== '' && textFault(next, placeholders) !== null)) return;
    save.mutate({ locale, text: next });
    setBefore(saved);
  };
  return (
    <li className={styles.text}>
      <Allowed permission="publish" quiet>
        <Field
          fullWidth
          multiline
          dir={directionOf(locale)}
          value={text}
          placeholder={standard}
          error={fault !== null}
          helperText={fault === null ? undefined : fault.charAt(0).toUpperCase() + fault.slice(1)}
          slotProps={{ htmlInput: { 'aria-label': standard, lang: locale, maxLength: 2000 } }}
          onChange={({ target }) => {
            setText(target.value);
          }}
          // The default is there to be changed a little, and is no change as it is.
          onFocus={() => {
            if (text === '') setText(standard);
          }}
          onBlur={() => {
            keep(text.trim() === standard ? '' : text);
          }}
        />
        <div className={styles.beside}>
          {placeholders.length > 0 && (
            <span className={styles.names}>{placeholders.map((name) => `{${name}}`).join(' ')}</span>
          )}
          {save.isPending ? 'saving…' : saved !== '' && saved === text.trim() ? 'changed' : ''}
          {saved !== '' && (
            <Button
              size="small"
              title={standard}
              onClick={() => {
                keep('');
              }}
            >
              Restore the default
            </Button>
          )}
        </div>
      </Allowed>
      {save.error && <ErrorNote error={save.error} />}
      <Toast
        words={before !== null && save.isSuccess ? `Shoppers now read “${saved === '' ? standard : saved}”.` : null}
        undo={() => {
          keep(before ?? '');
        }}
        done={() => {
          setBefore(null);
        }}
      />
    </li>
  );
}
