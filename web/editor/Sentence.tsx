import { Popover } from '@mui/material';
import { useMemo, useRef, useState } from 'react';
import { factOf, type Leaf } from '#core/facts/facts.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { conditionSegments, plain, segmentsOf } from '#core/rulebook/sentence.ts';
import { useMoment } from '../shared/useMoment.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import { useSeller } from '../goods/whose.ts';
import { addCondition, at, depthOf, grouped, put, withoutCondition } from '../draft/edits.ts';
import { Confirm } from './fields/Confirm.tsx';
import { ConditionEditor } from './conditions/ConditionEditor.tsx';
import { ExampleContext, exampleFor } from '../shared/example.ts';
import { OutcomeEditor } from './outcomes/OutcomeEditor.tsx';
import { OpeningMenu } from './ClauseMenu.tsx';
import { CATALOG_CLAUSES, clausesFor, EXCEPTIONS, type Open } from './clauseMenu.ts';
import styles from './Sentence.module.css';
import { Pieces, type Phrase } from './SentencePieces.tsx';

interface SentenceProps {
  readonly rule: Rule;
  readonly goods: Goods;
  readonly onChange: (rule: Rule, stroke?: string) => void;
  /** Shows only the products' part, by their facts. */
  readonly isOfCatalog?: true;
}

/** The rule as one sentence, in which every phrase that can vary is a button that opens just that. */
export function Sentence({ rule, goods, onChange, isOfCatalog }: SentenceProps) {
  const [open, setOpen] = useState<Open | null>(null);
  const seller = useSeller();
  const names = { ...namesFrom(goods), translations: 'marked' } as const;
  const segments = isOfCatalog ? conditionSegments(rule, names) : segmentsOf(rule, names);
  const { moment } = useMoment(goods.shop.zone);
  const example = useMemo(() => exampleFor(rule, goods, moment), [rule, goods, moment]);
  const isLong = plain(segments).length > LONG;
  const text = useRef<HTMLParagraphElement>(null);
  const place = useMemo(() => (open ? stayingAt(open.anchor) : null), [open]);
  const left = useRef<Open | null>(null);
  /** Returns focus to the phrase, which may have been redrawn. */
  const goOn = () => {
    const { current } = left;
    if (!current || !('pointer' in current) || document.activeElement !== document.body) return;
    text.current?.querySelector<HTMLElement>(`[data-pointer="${CSS.escape(current.pointer)}"]`)?.focus();
  };
  const openPhrase = (anchor: HTMLElement, { pointer, about, lacking }: Phrase) => {
    setOpen(lacking && about === 'products' ? { anchor, adding: 'products', into: '/when' } : { anchor, pointer });
  };
  return (
    <>
      <p
        ref={text}
        className={[styles.sentence, (isLong || isOfCatalog) && styles.long].filter(Boolean).join(' ')}
        aria-label={isOfCatalog ? 'Which goods, as a sentence' : 'The rule as a sentence'}
      >
        <Pieces
          segments={segments}
          rule={rule}
          asking={isOfCatalog && 'catalog'}
          onOpen={openPhrase}
          onAdd={setOpen}
          onChange={onChange}
        />{' '}
        <OpeningMenu
          label="and…"
          choices={isOfCatalog ? CATALOG_CLAUSES : clausesFor(rule, seller?.allowed)}
          onOpen={setOpen}
          onChange={onChange}
        />
        {!isOfCatalog && (
          <>
            {' '}
            <OpeningMenu label="but not…" choices={EXCEPTIONS} onOpen={setOpen} onChange={onChange} />
          </>
        )}
      </p>
      <Popover
        open={open !== null}
        anchorEl={place}
        onClose={() => {
          setOpen(null);
          left.current = open;
        }}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{
          transition: { onExited: goOn },
          paper: { role: 'dialog', 'aria-label': 'Change this phrase', sx: { mt: 1 } },
        }}
      >
        {open && (
          <ExampleContext value={example}>
            <Editor
              open={open}
              rule={rule}
              goods={goods}
              onChange={onChange}
              onOpen={setOpen}
              {...(isOfCatalog ? { isOfCatalog } : {})}
            />
          </ExampleContext>
        )}
      </Popover>
    </>
  );
}

/** Current or last known position of a phrase, which may be redrawn while it is edited. */
function stayingAt(anchor: HTMLElement) {
  let last = anchor.getBoundingClientRect();
  return {
    nodeType: Node.ELEMENT_NODE as 1,
    getBoundingClientRect: () => (anchor.isConnected ? (last = anchor.getBoundingClientRect()) : last),
  };
}

interface EditorProps extends SentenceProps {
  readonly open: Open;
  readonly onOpen: (open: Open | null) => void;
}

function Editor({ open, rule, goods, onChange, onOpen, isOfCatalog }: EditorProps) {
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
  if (pointer === '/stopHere' || pointer === '/gather') {
    return (
      <Confirm
        hint={MEANS[pointer]}
        onRemove={() => {
          onChange(put(rule, pointer, undefined));
          onOpen(null);
        }}
      />
    );
  }
  if (pointer.startsWith('/then')) {
    return (
      <OutcomeEditor
        key={pointer}
        pointer={pointer}
        then={rule.then}
        goods={goods}
        onChange={(then) => {
          // "No more notes" is only said beside notes of its own.
          const next = put(rule, '/then', then);
          onChange((then.notes ?? then.style) ? next : put(next, '/gather', undefined), `outcome ${pointer}`);
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
      about={
        isOfCatalog
          ? 'catalog'
          : depthOf(pointer) > 1 || !pointer.startsWith('/when/all')
            ? 'anything'
            : factOf(leaf).about
      }
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

/** Characters from which a sentence is set smaller, so that its proof stays in sight. */
const LONG = 230;

/** Explanations of phrases that are present or absent. */
const MEANS = {
  '/stopHere': 'Where this rule applies, the rules below it are ignored: what it does not decide is the shop’s own.',
  '/gather': 'Where this rule applies, notes and classes from the rules below are not added.',
} as const;
