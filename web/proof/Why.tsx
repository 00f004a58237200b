import { aspectOf } from '#core/aspects/aspects.ts';
import { Button, IconButton, MenuItem, TextField } from '@mui/material';
import { Check, Minus, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { ResolvedAudience } from '#core/contract/audienceCalls.ts';
import type { TraceEntry } from '#core/engine/decision.ts';
import { decide } from '#core/engine/decide.ts';
import { trace } from '#core/engine/trace.ts';
import { phraseOf, type Leaf } from '#core/facts/facts.ts';
import { shownOutcomeOf } from '#core/analysis/spotCheck.ts';
import type { SpotCheck } from '#core/contract/spotCheckCalls.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { useMay } from '../session/useMay.ts';
import { useSpotCheckActs } from './useSpotCheckActs.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { keptAudience, namesFrom, titleIn, type Goods } from '../goods/useGoods.ts';
import { useMoment } from '../shared/useMoment.ts';
import { KIND_NAMES } from './names.ts';
import { momentWords } from '../shared/times.ts';
import styles from './Why.module.css';
import type { Proof, Row } from './proofRows.ts';
import { subjectOf } from './proofRows.ts';
import { variantLine } from './ProofRow.tsx';

interface WhyProps {
  readonly row: Row;
  readonly audience: ResolvedAudience;
  readonly proof: Proof;
  readonly goods: Goods;
  readonly onClose: () => void;
}

/** The reasons of a decision: rules in order, every condition with its actual value, and the deciding rules. */
export function Why({ row, audience, proof, goods, onClose }: WhyProps) {
  const { shop } = goods;
  const { isNow } = useMoment(shop.zone);
  const panel = useRef<HTMLDivElement>(null);
  const mayKeep = useMay('draft');
  const [variantId, setVariantId] = useState(row.variant.id);
  const variant = row.product.variants.find(({ id }) => id === variantId) ?? row.variant;
  const subject = subjectOf({ ...row, variant }, audience, proof);
  const decision = decide(proof.draft, subject);
  const entries = trace(proof.draft, subject);
  const { control, express, reasons, validUntil } = decision;
  const nameOf = ruleNames(
    proof.draft.rules.map(({ rule }) => rule),
    namesFrom(goods),
    goods.sellers,
  );
  const nameList = (ids: readonly string[]) => ids.map(nameOf).join(', ');

  useEffect(() => {
    const before = document.activeElement;
    panel.current?.focus();
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus();
    };
  }, [row.key, audience.name]);

  return (
    <div
      ref={panel}
      className={styles.why}
      role="dialog"
      aria-label="Why"
      tabIndex={-1}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
      }}
    >
      <header>
        <h2>
          Why {audience.name} sees {KIND_NAMES[control.kind]}
          {control.label !== null && ` “${control.label}”`}
        </h2>
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <X size={17} />
        </IconButton>
      </header>
      <p className={styles.what}>
        {titleIn(row.product.title, shop)} · {variantLine({ ...row, variant })} · {momentWords(proof.moment, shop.zone)}
        {validUntil !== null && ` · valid until ${momentWords(Date.parse(validUntil), shop.zone)}`}
      </p>
      {proof.surface === 'listing' && row.product.variants.length > 1 && (
        <TextField
          select
          label="A listing shows one control for all; reasons for"
          value={variantId}
          onChange={({ target }) => {
            setVariantId(target.value);
          }}
        >
          {row.product.variants.map(({ id, title }) => (
            <MenuItem key={id} value={id}>
              {title}
            </MenuItem>
          ))}
        </TextField>
      )}
      {mayKeep && (
        <KeepSpotCheck
          check={{
            variant: variant.id,
            surface: proof.surface === 'listing' ? 'listing' : 'product',
            visitor: keptAudience(audience),
            at: isNow ? null : new Date(proof.moment).toISOString(),
            expects: shownOutcomeOf(decision),
            blocks: true,
          }}
        />
      )}
      <ol>
        {entries.map((entry) => (
          <Entry
            key={entry.ruleId}
            entry={entry}
            number={proof.draft.order.indexOf(entry.ruleId) + 1}
            name={nameOf(entry.ruleId)}
            goods={goods}
          />
        ))}
      </ol>
      <p className={styles.rest}>
        {reasons.control.length === 0 && 'No rule decides the button: it is the shop’s own. '}
        Express pay is {express === 'show' ? 'shown' : 'hidden'}
        {reasons.express.length === 0 ? ', as the button is a plain purchase.' : `: ${nameList(reasons.express)}.`}
      </p>
    </div>
  );
}

/** Keeps a cell as a spot check for every draft. */
function KeepSpotCheck({ check }: { readonly check: SpotCheck }) {
  const { keep } = useSpotCheckActs();
  const isKept = keep.isSuccess && JSON.stringify(keep.variables) === JSON.stringify(check);
  return (
    <p className={styles.keep}>
      {isKept ? (
        <span role="status">Kept as a spot check: every draft is now checked against it.</span>
      ) : (
        <Button
          size="small"
          variant="outlined"
          loading={keep.isPending}
          onClick={() => {
            keep.mutate(check);
          }}
        >
          Keep as a spot check
        </Button>
      )}
      {keep.error && <ErrorNote error={keep.error} />}
    </p>
  );
}

interface EntryProps {
  readonly entry: TraceEntry;
  readonly number: number;
  readonly name: string;
  readonly goods: Goods;
}

function Entry({ entry, number, name, goods }: EntryProps) {
  const { outcome, decided, lost, leaves } = entry;
  const isQuiet = outcome === 'off' || outcome === 'unfinished';
  return (
    <li className={decided.length > 0 ? styles.decides : undefined}>
      <span className={styles.number}>{number > 0 && number}</span>
      <div>
        <b>{name}</b>{' '}
        <span className={styles.outcome}>
          {decided.length > 0 && `decides ${decided.map((aspect) => aspectOf(aspect).name).join(' and ')}`}
          {lost.length > 0 &&
            `${decided.length > 0 ? '; ' : ''}would decide ${lost.map((aspect) => aspectOf(aspect).name).join(' and ')}, but a rule above does`}
          {OUTCOME[outcome]}
        </span>
        {!isQuiet && (
          <ul>
            {leaves.map((leaf) => (
              <li key={leaf.pointer} className={leaf.matched ? styles.held : styles.failed}>
                {leaf.matched ? <Check size={14} aria-label="matches" /> : <X size={14} aria-label="does not match" />}
                <span>
                  {phraseOf({ fact: leaf.fact, op: leaf.op, value: leaf.expected } as Leaf, namesFrom(goods))}
                  <small>{actualWords(leaf, goods)}</small>
                </span>
              </li>
            ))}
          </ul>
        )}
        {isQuiet && <Minus size={14} aria-hidden />}
      </div>
    </li>
  );
}

const OUTCOME: Record<TraceEntry['outcome'], string> = {
  counts: '',
  fails: 'does not apply',
  off: 'is off',
  unfinished: 'is unfinished',
  atCap: 'has reached its cap',
  closed: 'is ignored because of a rule above',
};

/** Describes the actual value. */
function actualWords({ fact, actual }: TraceEntry['leaves'][number], goods: Goods): string {
  const { category, product, variant, price } = namesFrom(goods);
  if (actual === null) return MISSING[fact] ?? 'none';
  if (typeof actual === 'boolean') return (BOOLEAN[fact] ?? YES_OR_NO)[actual ? 0 : 1];
  if (typeof actual === 'number')
    return fact === 'variant.price' ? price(actual) : `${actual} ${COUNTED[fact] ?? 'left'}`;
  if (Array.isArray(actual)) {
    const words = actual.map((one: unknown) =>
      fact === 'product.categories' ? category(String(one)) : (STOCK[String(one)] ?? String(one)),
    );
    return words.length > 0 ? words.join(', ') : (NONE[fact] ?? 'none');
  }
  const text = typeof actual === 'string' ? actual : JSON.stringify(actual);
  if (fact === 'moment') return text.length > 19 ? momentWords(Date.parse(text), goods.shop.zone) : text;
  if (fact === 'product' || fact === 'product.id') return product(text);
  return fact === 'variant.id' ? variant(text) : text;
}

const YES_OR_NO = ['yes', 'no'] as const;
const BOOLEAN: Partial<Record<string, readonly [string, string]>> = {
  'visitor.signedIn': ['signed in', 'a guest'],
  'visitor.invited': ['invited', 'not invited'],
};
const COUNTED: Partial<Record<string, string>> = { 'preorder.reserved': 'reserved', 'waitlist.length': 'waiting' };

/** Explanations of missing facts. */
const MISSING: Partial<Record<string, string>> = {
  'stock.quantity': 'its stock is not tracked',
  'stock.productTotal': 'its stock is not tracked',
  'visitor.customer': 'a guest',
  'page.path': 'the page is not known',
  'visitor.locale': 'no language given',
};

const STOCK: Partial<Record<string, string>> = {
  inStock: 'in stock',
  outOfStock: 'out of stock',
  backorder: 'oversold allowed',
  untracked: 'untracked',
};
const NONE: Partial<Record<string, string>> = {
  'product.tags': 'no tags',
  'product.categories': 'no category',
  'visitor.roles': 'no role',
};
