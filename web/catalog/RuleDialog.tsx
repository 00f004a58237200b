import { rulesIn } from '#core/rulebook/entries.ts';
import { Autocomplete, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { GoodsChoice, OwnChanges } from '#core/contract/ownFactsCalls.ts';
import { placeForNew } from '#core/rulebook/closure.ts';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { allowedOutcome, type SellerAllowance } from '#core/rulebook/sellers.ts';
import { ruleName } from '#core/rulebook/sentence.ts';
import { insertRule, newId, replaceRule } from '../draft/edits.ts';
import { useDraft } from '../draft/useDraft.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import { useMay } from '../session/useMay.ts';
import { useSeller } from '../goods/whose.ts';
import { Choose } from '../shared/Choose.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './bulk.module.css';
import { IntendedImpact } from './IntendedImpact.tsx';
import { naming, putInto, takeOut, type Named } from './putInto.ts';
import { TREATMENTS, treatedBy, type Treatment } from './treat.ts';
import { useFactActs } from './useFactChanges.ts';

const WAYS = {
  into: 'Put them into a rule',
  out: 'Take them out of a rule',
  start: 'Start a rule with them',
} as const;
type Way = keyof typeof WAYS;

const DONE: Readonly<Record<Way, string>> = { into: 'put into', out: 'taken out of', start: 'in the new rule' };

const STARTS = {
  ...(Object.fromEntries(Object.entries(TREATMENTS).map(([key, { label }]) => [key, label])) as Record<
    Treatment,
    string
  >),
  nothing: 'Start from nothing',
} as const;
type Start = keyof typeof STARTS;

/** Reduces an outcome to the allowed parts; null if its control is not allowed. */
function leftOf(then: Rule['then'], allowed: SellerAllowance): Rule['then'] {
  const left = allowedOutcome(then, { ...allowed, mostUnits: null });
  return 'control' in then && !('control' in left) ? {} : left;
}

/** Starting points of a rule within an allowance. */
const startsFor = (allowed: SellerAllowance | null) =>
  Object.fromEntries(
    Object.entries(STARTS).filter(
      ([start]) =>
        start === 'nothing' ||
        allowed === null ||
        Object.keys(leftOf(TREATMENTS[start as Treatment].then, allowed)).length > 0,
    ),
  ) as Readonly<Record<Start, string>>;

interface RuleDialogProps {
  readonly chosen: GoodsChoice;
  /** Their ids, where they are few; null where a tag has to name them. */
  readonly ids: readonly string[] | null;
  readonly counted: string;
  readonly goods: Goods;
  /** Receives a summary of the change; null if nothing was changed. */
  readonly onClose: (done: string | null) => void;
}

/** Puts many products into a rule of the draft, out of it, or into one of their own: one by one, or by a tag made for it. */
export function RuleDialog({ chosen, ids, counted, goods, onClose }: RuleDialogProps) {
  const { rulebook, change } = useDraft();
  const navigate = useNavigate();
  const mayTag = useMay('catalog');
  const seller = useSeller();
  const starts = startsFor(seller?.allowed ?? null);
  const { change: facts } = useFactActs();
  const [way, setWay] = useState<Way>('into');
  const [start, setStart] = useState(() => Object.keys(starts)[0] as Start);
  const [ruleId, setRuleId] = useState<string | null>(null);
  const [by, setBy] = useState<'ids' | 'tag'>(ids ? 'ids' : 'tag');
  const [tag, setTag] = useState('');
  const names = namesFrom(goods);
  const called = by === 'tag' ? tag.trim() : '';
  const named = useMemo((): Named | null => {
    if (by === 'ids' && ids) return { ids };
    return called === '' ? null : { tag: called };
  }, [by, ids, called]);
  const intended = useMemo(() => {
    if (!rulebook || !named) return null;
    const home = { locales: goods.shop.locales, dates: goods.vocabulary.dates.map(({ name }) => name) };
    const landed = landing(
      rulebook,
      way,
      way === 'start' ? newRule(start, named, home, seller?.allowed ?? null) : ruleId,
      named,
    );
    return landed && { ...landed, changes: changesFor(named) };
  }, [rulebook, way, start, ruleId, named, goods, seller]);
  const rules = rulebook ? rulesIn(rulebook) : [];
  const rule = rules.find(({ id }) => id === ruleId) ?? null;
  const leftEmpty = way === 'out' && rule !== null && named !== null && intended === null;
  return (
    <Dialog
      open
      maxWidth="sm"
      fullWidth
      aria-labelledby="rule-title"
      onClose={() => {
        onClose(null);
      }}
    >
      <DialogTitle id="rule-title">Rules for {counted}</DialogTitle>
      <DialogContent className={styles.fields}>
        <Choose label="What" words={WAYS} value={way} onChange={setWay} />
        {way === 'start' ? (
          <Choose label="What it does" words={starts} value={start} onChange={setStart} />
        ) : (
          <Autocomplete
            options={rules}
            value={rule}
            getOptionLabel={(one) => ruleName(one, names)}
            getOptionKey={({ id }) => id}
            onChange={(_event, one) => {
              setRuleId(one?.id ?? null);
            }}
            renderInput={(input) => <TextField {...input} label="Rule" />}
          />
        )}
        {ids === null && !mayTag ? (
          <p className={styles.hint}>
            They are too many to be named one by one, and a tag for them needs somebody who may change the catalog.
          </p>
        ) : (
          mayTag && (
            <Choose
              label="They are named"
              words={
                {
                  ...(ids ? { ids: 'one by one' } : {}),
                  tag: 'by a tag made for it',
                } as Record<'ids' | 'tag', string>
              }
              value={by}
              onChange={setBy}
            />
          )
        )}
        {by === 'tag' && mayTag && (
          <TextField
            label="Tag"
            value={tag}
            helperText={ids ? 'Whatever gets the tag later is in as well' : 'They are too many to be named one by one'}
            onChange={({ target }) => {
              setTag(target.value.replace('|', ''));
            }}
          />
        )}
        {leftEmpty && (
          <p className={styles.hint}>
            {ruleName(rule, names)} is about these products alone. Delete the rule, or switch it off.
          </p>
        )}
        {seller ? (
          <p className={styles.hint}>Its proof is shown beside the rule, before you publish it.</p>
        ) : (
          <IntendedImpact
            goods={chosen}
            intended={
              intended && { rulebook: intended.rulebook, ...(intended.changes ? { changes: intended.changes } : {}) }
            }
            audiences={goods.audiences.length}
          />
        )}
        {facts.error && <ErrorNote error={facts.error} />}
      </DialogContent>
      <DialogActions>
        <Button
          onClick={() => {
            onClose(null);
          }}
        >
          Cancel
        </Button>
        <Button
          variant="contained"
          disabled={!intended}
          loading={facts.isPending}
          onClick={() => {
            if (!intended) return;
            const finish = () => {
              change(intended.rulebook);
              onClose(
                `${counted}: ${DONE[way]} “${ruleName(intended.made, names)}” in the draft, which is not live yet.`,
              );
              if (way === 'start' || seller) void navigate(`/rules/${encodeURIComponent(intended.made.id)}`);
            };
            if (intended.changes) facts.mutate({ goods: chosen, changes: intended.changes }, { onSuccess: finish });
            else finish();
          }}
        >
          Add to the draft
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** A tag is theirs before a rule asks for it. */
const changesFor = (named: Named): OwnChanges | null => ('tag' in named ? { addTags: [named.tag] } : null);

function newRule(
  start: Start,
  named: Named,
  home: Parameters<typeof treatedBy>[2],
  allowed: SellerAllowance | null,
): Rule {
  const goods = naming(named);
  const name = 'tag' in named ? `Tagged ${named.tag}` : `${named.ids.length} products`;
  if (start === 'nothing') return { id: newId(name), name, on: true, when: goods, then: {} };
  const made = treatedBy(start, goods, home);
  const then = allowed ? leftOf(made.then, allowed) : made.then;
  return { ...made, then, id: newId(name), name: `${TREATMENTS[start].name}: ${name}` };
}

/** The draft with the products added to a rule, taken out, or in a new rule; null if there is no such rule or product. */
function landing(
  rulebook: Rulebook,
  way: Way,
  about: Rule | string | null,
  named: Named,
): { readonly rulebook: Rulebook; readonly made: Rule } | null {
  if (about !== null && typeof about === 'object')
    return { rulebook: insertRule(rulebook, about, placeForNew(rulebook, about)), made: about };
  const rule = rulesIn(rulebook).find(({ id }) => id === about);
  const next = rule && (way === 'into' ? putInto(rule, named) : takeOut(rule, named));
  return next ? { rulebook: replaceRule(rulebook, next), made: next } : null;
}
