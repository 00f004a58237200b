import { isSellers } from '#core/rulebook/entries.ts';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Button, Menu, MenuItem, TextField } from '@mui/material';
import { useDeferredValue, useMemo, useState, type KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { placeForNew } from '#core/rulebook/closure.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { ruleName, SELLERS_SENTENCE, shortSentence } from '#core/rulebook/sentence.ts';
import { useMayDraft } from '../session/useMay.ts';
import { useMoment } from '../shared/useMoment.ts';
import { compiledFor } from '../goods/compiledFor.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import { reachOfAll } from '../proof/proofRows.ts';
import { useSeller } from '../goods/whose.ts';
import { insertRule, moveRule, newId } from '../draft/edits.ts';
import { fitted, intentionsFor, type Intention } from '../editor/intentions.ts';
import { RuleRow } from './RuleRow.tsx';
import styles from './rules.module.css';
import { useChanges, useDraft } from '../draft/useDraft.ts';

interface RunningOrderProps {
  readonly rulebook: Rulebook;
  readonly goods: Goods;
  readonly chosenId: string | undefined;
  readonly onChoose: (id: string) => void;
  /** Called with the order while a rule is dragged, and with null at the end. */
  readonly onDrag: (order: Rulebook | null) => void;
}

/** The rules from top to bottom; the upper one wins. */
export function RunningOrder({ rulebook, goods, chosenId, onChoose, onDrag }: RunningOrderProps) {
  const { change } = useDraft();
  const mayChange = useMayDraft();
  const seller = useSeller();
  const changes = useChanges();
  const [filter, setFilter] = useState('');
  const { moment } = useMoment(goods.shop.zone);
  // The reach of rules may lag behind typing.
  const settled = useDeferredValue(rulebook);
  const reach = useMemo(
    () => reachOfAll(compiledFor(settled, goods), goods.products, goods.audiences, moment),
    [settled, goods, moment],
  );
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const names = namesFrom(goods);
  const total = goods.products.reduce((sum, { variants }) => sum + variants.length, 0);
  const { rules } = rulebook;
  const wanted = filter.trim().toLowerCase();
  const shown = rules.filter((rule) =>
    `${ruleName(rule, names)} ${isSellers(rule) ? SELLERS_SENTENCE : shortSentence(rule, names)}`
      .toLowerCase()
      .includes(wanted),
  );
  const inDraft = new Set(changes?.flatMap((one) => ('now' in one ? one.now.id : [])));

  const droppedAt = (active: UniqueIdentifier, over: UniqueIdentifier | undefined) => {
    const index = rules.findIndex(({ id }) => id === over);
    return index >= 0 && over !== active ? moveRule(rulebook, String(active), index) : null;
  };

  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const index = rules.findIndex(({ id }) => id === chosenId);
    const neighbour = rules[index + (step ?? 0)];
    if (step === undefined || !neighbour || chosenId === undefined) return;
    event.preventDefault();
    if (event.altKey) change(moveRule(rulebook, chosenId, index + step));
    else onChoose(neighbour.id);
  };

  return (
    <section className={styles.order} aria-label="Running order">
      <header>
        <h1>Running order</h1>
        {!seller && (
          <Button variant="outlined" component={Link} to="/text">
            As text
          </Button>
        )}
        {mayChange && (
          <NewRule
            onMake={(intention) => {
              const home = { locales: goods.shop.locales, dates: goods.vocabulary.dates.map((date) => date.name) };
              const { name, when, then } = fitted(intention, home);
              const id = newId(name);
              // Default place: above rules that would hide it and below closures.
              change(insertRule(rulebook, { id, name, on: true, when, then }, placeForNew(rulebook, intention)));
              onChoose(id);
            }}
          />
        )}
      </header>
      {rules.length > 5 && (
        <div className={styles.find}>
          <TextField
            placeholder="Find a rule"
            value={filter}
            onChange={({ target }) => {
              setFilter(target.value);
            }}
            slotProps={{ htmlInput: { 'aria-label': 'Find a rule' } }}
          />
        </div>
      )}
      <DndContext
        sensors={mayChange ? sensors : []}
        collisionDetection={closestCenter}
        onDragOver={({ active, over }) => {
          onDrag(droppedAt(active.id, over?.id));
        }}
        onDragCancel={() => {
          onDrag(null);
        }}
        onDragEnd={({ active, over }) => {
          onDrag(null);
          const dropped = droppedAt(active.id, over?.id);
          if (dropped) change(dropped);
        }}
      >
        <SortableContext items={shown.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
          <ol className={styles.rules} onKeyDown={onKeyDown}>
            {shown.map((rule) => (
              <RuleRow
                key={rule.id}
                rule={rule}
                number={rules.indexOf(rule) + 1}
                names={names}
                reach={reach.get(rule.id) ?? NOTHING}
                total={total}
                isChosen={rule.id === chosenId}
                isInDraft={inDraft.has(rule.id)}
                onChoose={onChoose}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      {rules.length > 0 && shown.length === 0 && (
        <p className={styles.none}>No rule has “{filter}” in its name or sentence.</p>
      )}
    </section>
  );
}

const NOTHING = { variants: 0, products: 0 };

function NewRule({ onMake }: { readonly onMake: (intention: Intention) => void }) {
  const seller = useSeller();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        variant="contained"
        aria-haspopup="menu"
        onClick={(event) => {
          setAnchor(event.currentTarget);
        }}
      >
        New rule
      </Button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAnchor(null);
        }}
      >
        {intentionsFor(seller?.allowed ?? null).map((intention) => (
          <MenuItem
            key={intention.label}
            onClick={() => {
              setAnchor(null);
              onMake(intention);
            }}
          >
            <span className={styles.intention}>
              {intention.label}
              <small>{intention.means}</small>
            </span>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
