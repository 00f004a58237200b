import { Menu, MenuItem, Popover } from '@mui/material';
import { useState } from 'react';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { ABOUT, JOINING, segmentsOf } from '#core/rulebook/sentence.ts';
import type { About, Segment } from '#core/rulebook/segment.ts';
import type { Leaf } from '#core/rulebook/leaf.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import { at, put, withCondition, withoutCondition } from './edits.ts';
import { ConditionEditor } from './editors/ConditionEditor.tsx';
import { StopHere } from './editors/StopHere.tsx';
import { OutcomeEditor, outcomePart } from './editors/OutcomeEditor.tsx';
import styles from './Sentence.module.css';

/** The phrase that is open: a place in the rule, or a clause that is being added. */
type Open = { readonly anchor: HTMLElement } & (
  { readonly pointer: string } | { readonly adding: Exclude<About, 'outcome'> }
);

interface SentenceProps {
  readonly rule: Rule;
  readonly goods: Goods;
  readonly onChange: (rule: Rule, stroke?: string) => void;
}

/** The rule as one sentence, in which every phrase that can vary is a button that opens just that. */
export function Sentence({ rule, goods, onChange }: SentenceProps) {
  const [open, setOpen] = useState<Open | null>(null);
  const segments = segmentsOf(rule, namesFrom(goods));
  const openPhrase = (anchor: HTMLElement, { pointer, about, lacking }: Phrase) => {
    setOpen(lacking && about === 'goods' ? { anchor, adding: 'goods' } : { anchor, pointer });
  };
  return (
    <>
      <p className={styles.sentence} aria-label="The rule as a sentence">
        <Pieces segments={segments} onOpen={openPhrase} /> <Add rule={rule} onAdd={setOpen} />
      </p>
      <Popover
        open={open !== null}
        anchorEl={open?.anchor ?? null}
        onClose={() => {
          setOpen(null);
        }}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Change this phrase', sx: { mt: 1 } } }}
      >
        {open && <Editor open={open} rule={rule} goods={goods} onChange={onChange} onOpen={setOpen} />}
      </Popover>
    </>
  );
}

type Phrase = Extract<Segment, { kind: 'phrase' }>;

interface PiecesProps {
  readonly segments: readonly Segment[];
  readonly onOpen: (anchor: HTMLElement, phrase: Phrase) => void;
}

function Pieces({ segments, onOpen }: PiecesProps) {
  return segments.map((segment, index) => {
    switch (segment.kind) {
      case 'words':
        return <span key={`${index} words`}>{segment.text}</span>;
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
            <span className={styles.joining}>{JOINING[segment.join]}</span>
            {segment.members.map((member, place) => (
              <span key={`${segment.pointer} ${place}`} className={styles.member}>
                <Pieces segments={member} onOpen={onOpen} />
              </span>
            ))}
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
      {phrase.text}
    </span>
  );
}

/** "and…": what the sentence does not speak of yet. */
function Add({ rule, onAdd }: { readonly rule: Rule; readonly onAdd: (open: Open) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { control, price, express } = rule.then;
  const clauses: { label: string; open: { pointer: string } | { adding: Exclude<About, 'outcome'> } }[] = [
    { label: 'which goods', open: { adding: 'goods' } },
    { label: 'for whom', open: { adding: 'people' } },
    { label: 'when', open: { adding: 'time' } },
    ...(control ? [] : [{ label: 'what stands in the button’s place', open: { pointer: '/then/control' } }]),
    ...(control && !control.onListing
      ? [{ label: 'something else on listings', open: { pointer: '/then/control/onListing' } }]
      : []),
    ...(price ? [] : [{ label: 'the price', open: { pointer: '/then/price' } }]),
    ...(express ? [] : [{ label: 'express pay', open: { pointer: '/then/express' } }]),
    ...(rule.stopHere ? [] : [{ label: 'no rule below counts', open: { pointer: '/stopHere' } }]),
  ];
  return (
    <>
      <button
        type="button"
        className={styles.and}
        aria-haspopup="menu"
        onClick={(event) => {
          setAnchor(event.currentTarget);
        }}
      >
        and…
      </button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAnchor(null);
        }}
      >
        {clauses.map(({ label, open }) => (
          <MenuItem
            key={label}
            onClick={() => {
              if (anchor) onAdd({ anchor, ...open });
              setAnchor(null);
            }}
          >
            {label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

interface EditorProps extends SentenceProps {
  readonly open: Open;
  readonly onOpen: (open: Open | null) => void;
}

function Editor({ open, rule, goods, onChange, onOpen }: EditorProps) {
  if ('adding' in open) {
    const addedAt = `/when/all/${'all' in rule.when ? rule.when.all.length : 1}`;
    return (
      <ConditionEditor
        about={open.adding}
        leaf={null}
        goods={goods}
        onChange={(leaf) => {
          onChange(withCondition(rule, leaf), `condition ${addedAt}`);
          onOpen({ anchor: open.anchor, pointer: addedAt });
        }}
      />
    );
  }
  const { pointer } = open;
  if (pointer === '/stopHere') {
    return (
      <StopHere
        stopHere={rule.stopHere === true}
        onChange={(stopHere) => {
          onChange(stopHere ? { ...rule, stopHere } : put(rule, '/stopHere', undefined));
          onOpen(null);
        }}
      />
    );
  }
  if (pointer.startsWith('/then')) {
    const part = outcomePart(pointer);
    return (
      <OutcomeEditor
        pointer={pointer}
        then={rule.then}
        shop={goods.shop}
        onChange={(then) => {
          onChange({ ...rule, then }, `outcome ${part}`);
        }}
        onClose={() => {
          onOpen(null);
        }}
      />
    );
  }
  const leaf = at(rule, pointer) as Leaf | undefined;
  if (!leaf || !('fact' in leaf)) return null;
  return (
    <ConditionEditor
      about={ABOUT[leaf.fact] as Exclude<About, 'outcome'>}
      leaf={leaf}
      goods={goods}
      onChange={(next) => {
        onChange(put(rule, pointer, next), `condition ${pointer}`);
      }}
      onRemove={() => {
        onChange(withoutCondition(rule, pointer));
        onOpen(null);
      }}
    />
  );
}
