import { Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import type { Join } from '#core/model/join.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import type { Segment } from '#core/facts/segment.ts';
import { JOINING } from '#core/rulebook/sentence.ts';
import { ReadableText } from '../shared/ReadableText.tsx';
import { rejoined, withoutCondition } from '../draft/edits.ts';
import { OpeningMenu } from './ClauseMenu.tsx';
import { memberChoices, MORE, type Open } from './clauseMenu.ts';
import type { ConditionKind } from './conditions/questions.ts';
import styles from './Sentence.module.css';

export type Phrase = Extract<Segment, { kind: 'phrase' }>;

interface PiecesProps {
  readonly segments: readonly Segment[];
  readonly rule: Rule;
  readonly onOpen: (anchor: HTMLElement, phrase: Phrase) => void;
  readonly onAdd: (open: Open) => void;
  readonly onChange: (rule: Rule) => void;
  /** Conditions allowed in a group; any if missing. */
  readonly asking?: ConditionKind | undefined;
}

/** The sentence, piece by piece; the members of a group stand on lines of their own. */
export function Pieces({ segments, ...props }: PiecesProps) {
  const { rule, onOpen, onAdd, onChange, asking } = props;
  return segments.map((segment, index) => {
    switch (segment.kind) {
      case 'words':
        // A group ends its line, which parts the words as well as a colon would.
        return (
          <span key={`${index} words`}>
            {'members' in (segments[index - 1] ?? {}) ? segment.text.replace(/^[:,] /, '') : segment.text}
          </span>
        );
      case 'phrase':
        return (
          <PhraseButton
            key={`${segment.pointer} ${segment.lacking ?? ''}`}
            phrase={segment}
            onOpen={(anchor) => {
              onOpen(anchor, segment);
            }}
          />
        );
      case 'group':
        return (
          <span key={segment.pointer} className={styles.group}>
            <Joining rule={rule} pointer={segment.pointer} join={segment.join} onChange={onChange} />
            {segment.members.map((member, place) => (
              <span key={`${segment.pointer} ${place}`} className={styles.member}>
                <Pieces {...props} segments={member} />
              </span>
            ))}
            <span className={styles.member}>
              <OpeningMenu
                label={MORE[segment.join]}
                choices={memberChoices(segment.pointer, asking)}
                onOpen={onAdd}
                onChange={onChange}
              />
            </span>
          </span>
        );
    }
  });
}

/** A phrase that opens. A true button would not wrap with the words around it, so this is one by its role. */
function PhraseButton({ phrase, onOpen }: { readonly phrase: Phrase; readonly onOpen: (anchor: HTMLElement) => void }) {
  return (
    <span
      role="button"
      tabIndex={0}
      data-pointer={phrase.pointer}
      className={`${styles.phrase} ${styles[phrase.about]} ${phrase.lacking ? styles.lacking : ''}`}
      aria-haspopup="dialog"
      onClick={(event) => {
        onOpen(event.currentTarget);
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        onOpen(event.currentTarget);
      }}
    >
      <ReadableText text={phrase.text} />
    </span>
  );
}

interface JoiningProps {
  readonly rule: Rule;
  readonly pointer: string;
  readonly join: Join;
  readonly onChange: (rule: Rule) => void;
}

/** The words that join a group, to be changed or taken out with all that they join. */
function Joining({ rule, pointer, join, onChange }: JoiningProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const change = (next: Rule) => {
    setAnchor(null);
    onChange(next);
  };
  return (
    <>
      <button
        type="button"
        className={`${styles.and} ${styles.joining}`}
        aria-haspopup="menu"
        onClick={(event) => {
          setAnchor(event.currentTarget);
        }}
      >
        {JOINING[join]}
      </button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAnchor(null);
        }}
      >
        {(['any', 'all', 'none'] as const).map((other) => (
          <MenuItem
            key={other}
            selected={other === join}
            onClick={() => {
              change(rejoined(rule, pointer, other));
            }}
          >
            {JOINING[other]}
          </MenuItem>
        ))}
        <MenuItem
          onClick={() => {
            change(withoutCondition(rule, pointer));
          }}
        >
          Remove all of these
        </MenuItem>
      </Menu>
    </>
  );
}
