import { Button, Snackbar } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { ruleName } from '#core/rulebook/sentence.ts';
import { Allowed } from '../session/Allowed.tsx';
import { withMoment } from '../shared/useMoment.ts';
import type { Goods } from '../goods/useGoods.ts';
import { Proof } from '../proof/Proof.tsx';
import { insertRule, newId, removeRule, replaceRule } from '../draft/edits.ts';
import { EntryTools } from './EntryTools.tsx';
import styles from './rules.module.css';
import { Sentence } from '../editor/Sentence.tsx';
import { useDraft } from '../draft/useDraft.ts';

interface RuleSheetProps {
  readonly rule: Rule;
  readonly rulebook: Rulebook;
  readonly goods: Goods;
  /** Content instead of the proof. */
  readonly proof?: ReactNode;
}

/** One rule: its name, its sentence, which is the editor, and its proof. */
export function RuleSheet({ rule, rulebook, goods, proof }: RuleSheetProps) {
  const { change, undo } = useDraft();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const [message, setMessage] = useState<string | null>(null);
  const index = rulebook.rules.indexOf(rule);
  const goTo = (id: string) => void navigate(withMoment(`/rules/${encodeURIComponent(id)}`, search));

  const duplicate = () => {
    const name = `${rule.name ?? 'Rule'}, again`;
    const copy = { ...rule, id: newId(name), name };
    change(insertRule(rulebook, copy, index + 1));
    goTo(copy.id);
  };
  const remove = () => {
    const neighbour = rulebook.rules[index + 1] ?? rulebook.rules[index - 1];
    change(removeRule(rulebook, rule.id));
    if (neighbour) goTo(neighbour.id);
  };

  return (
    <>
      <Allowed permission="draft">
        <header className={styles.ruleHead}>
          <input
            className={styles.nameField}
            aria-label="Rule’s name"
            value={rule.name ?? ''}
            placeholder="Name this rule"
            maxLength={200}
            onChange={({ target }) => {
              change(replaceRule(rulebook, { ...rule, name: target.value }), `name ${rule.id}`);
            }}
          />
          <EntryTools
            entry={rule}
            rulebook={rulebook}
            onDuplicate={duplicate}
            onDelete={() => {
              setMessage(`Deleted “${ruleName(rule)}”.`);
              remove();
            }}
          />
        </header>
        <Sentence
          rule={rule}
          goods={goods}
          onChange={(next, stroke) => {
            change(replaceRule(rulebook, next), stroke && `${stroke} ${rule.id}`);
          }}
        />
      </Allowed>
      {proof ?? <Proof rule={rule} rulebook={rulebook} goods={goods} />}
      <Snackbar
        open={message !== null}
        message={message}
        autoHideDuration={8000}
        onClose={() => {
          setMessage(null);
        }}
        action={undo && <Button onClick={undo}>Undo</Button>}
      />
    </>
  );
}
