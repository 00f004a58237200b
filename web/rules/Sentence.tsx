import { Popover } from '@mui/material';
import { useState } from 'react';
import type { Leaf } from '#core/rulebook/leaf.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { ABOUT, segmentsOf } from '#core/rulebook/sentence.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import { addCondition, at, depthOf, grouped, put, withoutCondition } from './edits.ts';
import { ConditionEditor } from './editors/ConditionEditor.tsx';
import { OutcomeEditor, outcomePart } from './editors/OutcomeEditor.tsx';
import type { Asked } from './editors/questions.ts';
import { StopHere } from './editors/StopHere.tsx';
import { OpeningMenu } from './OpeningMenu.tsx';
import { clausesFor, type Open } from './openings.ts';
import styles from './Sentence.module.css';
import { Pieces, type Phrase } from './SentencePieces.tsx';

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
    setOpen(lacking && about === 'goods' ? { anchor, adding: 'goods', into: '/when' } : { anchor, pointer });
  };
  return (
    <>
      <p className={styles.sentence} aria-label="The rule as a sentence">
        <Pieces segments={segments} rule={rule} onOpen={openPhrase} onAdd={setOpen} onChange={onChange} />{' '}
        <OpeningMenu label="and…" choices={clausesFor(rule)} onOpen={setOpen} />
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

interface EditorProps extends SentenceProps {
  readonly open: Open;
  readonly onOpen: (open: Open | null) => void;
}

function Editor({ open, rule, goods, onChange, onOpen }: EditorProps) {
  if ('adding' in open) {
    const { adding, into, within } = open;
    return (
      <ConditionEditor
        about={adding}
        leaf={null}
        goods={goods}
        onChange={(leaf) => {
          const added = addCondition(rule, into, within ? grouped(within, [leaf]) : leaf);
          const leafAt = within ? `${added.pointer}/${within}/0` : added.pointer;
          onChange(added.rule, `condition ${leafAt}`);
          onOpen({ anchor: open.anchor, pointer: leafAt });
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
      about={depthOf(pointer) > 1 || !pointer.startsWith('/when/all') ? 'anything' : (ABOUT[leaf.fact] as Asked)}
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
