import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { Form, FormField } from '#core/contract/askingCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { LocalisedFields } from '../shared/LocalisedFields.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { Toast } from '../shared/Toast.tsx';
import { FieldEditor } from './FieldEditor.tsx';
import { FormAsRead } from './FormAsRead.tsx';
import styles from './forms.module.css';
import { useDeleteForm, useSaveForm, type ShopForm } from './useForms.ts';

/** The form of the quote sheet; the others are named by rules. */
const QUOTE = 'quote';

/** Editor of a form's fields and texts, with a preview. */
export function FormEditor({ form: saved, shop }: { readonly form: ShopForm; readonly shop: ShopFacts }) {
  const { code, rules, ...first } = saved;
  const [form, setForm] = useState<Form>(first);
  const [message, setMessage] = useState<string | null>(null);
  const [undone, setUndone] = useState(0);
  const save = useSaveForm();
  const remove = useDeleteForm();
  const isChanged = JSON.stringify(form) !== JSON.stringify(first);
  const change = (changed: Partial<Form>) => {
    setForm((before) => ({ ...before, ...changed }));
  };
  const { fields } = form;
  const error = save.error ?? remove.error;
  return (
    <div className={styles.editor}>
      <section key={undone} className={styles.fields} aria-label={`The form ${code}`}>
        <p className={styles.used}>
          {code === QUOTE
            ? 'Sent with every quote sheet, beside the sender’s e-mail and name.'
            : rules.length === 0
              ? 'No rule of the draft shows it yet. Choose it in a rule whose control is a contact form.'
              : `Shown by ${rules.map((rule) => `“${rule}”`).join(', ')}, with the sender’s e-mail and name below.`}
        </p>
        {error && <ErrorNote error={error} />}
        {fields.map((field, position) => (
          <FieldEditor
            key={field.name}
            field={field}
            position={position}
            count={fields.length}
            locales={shop.locales}
            change={(changed) => {
              change({ fields: fields.with(position, changed) });
            }}
            moveTo={(to) => {
              change({ fields: fields.toSpliced(position, 1).toSpliced(to, 0, field) });
            }}
            remove={() => {
              change({ fields: fields.toSpliced(position, 1) });
            }}
          />
        ))}
        <div className={styles.line}>
          <Button
            variant="outlined"
            onClick={() => {
              change({ fields: [...fields, newField(fields)] });
            }}
          >
            Add a field
          </Button>
        </div>
        <h2>After it is sent</h2>
        <LocalisedFields
          label="Message"
          text={form.sentText ?? undefined}
          locales={shop.locales}
          multiline
          onChange={(words) => {
            change({ sentText: words ?? null });
          }}
        />
        <TextField
          label="Then go to the page"
          placeholder="/thank-you"
          value={form.goTo ?? ''}
          helperText="Empty to stay on the page"
          onChange={({ target }) => {
            change({ goTo: target.value.trim() || null });
          }}
        />
        {code === QUOTE && (
          <>
            <h2>While the sheet is empty</h2>
            <LocalisedFields
              label="Message"
              text={form.emptyText ?? undefined}
              locales={shop.locales}
              multiline
              onChange={(words) => {
                change({ emptyText: words ?? null });
              }}
            />
          </>
        )}
        <div className={styles.line}>
          <Button
            variant="contained"
            disabled={!isChanged}
            loading={save.isPending}
            onClick={() => {
              save.mutate(
                { code, form },
                {
                  onSuccess: () => {
                    setMessage('Saved. Shoppers see it at once.');
                  },
                },
              );
            }}
          >
            Save the form
          </Button>
          {isChanged && (
            <Button
              variant="outlined"
              onClick={() => {
                setForm(first);
                setUndone(undone + 1);
              }}
            >
              Discard changes
            </Button>
          )}
          {code !== QUOTE && rules.length === 0 && (
            <Button
              loading={remove.isPending}
              onClick={() => {
                remove.mutate(code);
              }}
            >
              Delete this form
            </Button>
          )}
        </div>
      </section>
      <FormAsRead fields={fields} shop={shop} />
      <Toast
        words={message}
        done={() => {
          setMessage(null);
        }}
      />
    </div>
  );
}

/** A field whose name no other has: names are for programs, and stay when the words change. */
function newField(fields: readonly FormField[]): FormField {
  let number = fields.length + 1;
  while (fields.some(({ name }) => name === `field-${number}`)) number += 1;
  return { name: `field-${number}`, kind: 'text', required: false, label: 'New field' };
}
