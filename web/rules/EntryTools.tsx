import { IconButton, Switch, Tooltip } from '@mui/material';
import { Copy, Redo2, Trash2, Undo2 } from 'lucide-react';
import type { Entry, Rulebook } from '#core/rulebook/rulebook.ts';
import { replaceRule } from '../draft/edits.ts';
import { useDraft } from '../draft/useDraft.ts';
import styles from './rules.module.css';

interface EntryToolsProps {
  readonly entry: Entry;
  readonly rulebook: Rulebook;
  readonly onDuplicate?: () => void;
  readonly onDelete: () => void;
}

/** Position and state of an entry in the running order, with its actions. */
export function EntryTools({ entry, rulebook, onDuplicate, onDelete }: EntryToolsProps) {
  const { change, undo, redo, saving } = useDraft();
  return (
    <>
      <span className={styles.place}>
        rule {rulebook.rules.indexOf(entry) + 1} of {rulebook.rules.length} · {SAVED[saving.state]}
      </span>
      <Tooltip title={entry.on ? 'Switch this rule off' : 'Switch this rule on'}>
        <Switch
          checked={entry.on}
          slotProps={{ input: { 'aria-label': 'Rule is on' } }}
          onChange={({ target }) => {
            change(replaceRule(rulebook, { ...entry, on: target.checked }));
          }}
        />
      </Tooltip>
      <Tool name="Undo (Ctrl Z)" icon={<Undo2 size={17} />} onPress={undo} />
      <Tool name="Redo (Ctrl Shift Z)" icon={<Redo2 size={17} />} onPress={redo} />
      {onDuplicate && <Tool name="Duplicate this rule" icon={<Copy size={16} />} onPress={onDuplicate} />}
      <Tool name="Delete this rule" icon={<Trash2 size={16} />} onPress={onDelete} />
    </>
  );
}

const SAVED = {
  saved: 'saved',
  waiting: 'saving…',
  saving: 'saving…',
  failed: 'not saved',
  conflict: 'not saved',
} as const;

interface ToolProps {
  readonly name: string;
  readonly icon: React.ReactNode;
  readonly onPress: (() => void) | null;
}

function Tool({ name, icon, onPress }: ToolProps) {
  return (
    <Tooltip title={name}>
      <span>
        <IconButton size="small" aria-label={name} disabled={onPress === null} onClick={() => onPress?.()}>
          {icon}
        </IconButton>
      </span>
    </Tooltip>
  );
}
