import { rulesIn } from '#core/rulebook/entries.ts';
import { Button, MenuItem, Popover, TextField } from '@mui/material';
import { useState } from 'react';
import type { GoodsFilter } from '#core/contract/findCalls.ts';
import { CONTROL_NAMES, CONTROLS } from '#core/controls/controls.ts';
import { ruleName } from '#core/rulebook/sentence.ts';
import { useDraft } from '../draft/useDraft.ts';
import { Sentence } from '../editor/Sentence.tsx';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import styles from './catalog.module.css';
import { asWhen, isFiltered, writtenCondition, type AddressProps } from './filter.ts';

interface FilterLineProps extends Pick<AddressProps, 'change'> {
  readonly filter: GoodsFilter;
  readonly goods: Goods;
}

/** Filter of products, as a sentence like a rule's, and by decision. */
export function FilterLine({ filter, goods, change: changeAddress }: FilterLineProps) {
  const { rulebook } = useDraft();
  const names = namesFrom(goods);
  const { where, decidedBy, shown, search } = filter;
  const change = (changes: Readonly<Record<string, string | null>>) => {
    changeAddress({ ...changes, page: null });
  };
  const rule = rulebook?.rules.find(({ id }) => id === decidedBy);
  return (
    <div className={styles.filter}>
      <Sentence
        isOfCatalog
        rule={{ id: 'catalog', on: true, when: asWhen(where), then: {} }}
        goods={goods}
        onChange={({ when }) => {
          change({ where: writtenCondition(when) });
        }}
      />
      <div className={styles.filterMore}>
        <OneFilter
          label={decidedBy === undefined ? 'decided by…' : `decided by “${rule ? ruleName(rule, names) : decidedBy}”`}
          isOn={decidedBy !== undefined}
          onClear={() => {
            change({ by: null });
          }}
        >
          <TextField
            select
            label="A rule of the draft"
            value={rule ? rule.id : ''}
            onChange={({ target }) => {
              change({ by: target.value });
            }}
          >
            {(rulebook ? rulesIn(rulebook) : []).map((one) => (
              <MenuItem key={one.id} value={one.id}>
                {ruleName(one, names)}
              </MenuItem>
            ))}
          </TextField>
        </OneFilter>
        <OneFilter
          label={shown ? `shown ${CONTROL_NAMES[shown.kind]} to ${shown.audience}` : 'shown as…'}
          isOn={shown !== undefined}
          onClear={() => {
            change({ shown: null, to: null });
          }}
        >
          <TextField
            select
            label="What stands in the button’s place"
            value={shown?.kind ?? ''}
            onChange={({ target }) => {
              change({ shown: target.value, to: shown?.audience ?? goods.audiences[0]?.name ?? null });
            }}
          >
            {CONTROLS.map(({ kind, name }) => (
              <MenuItem key={kind} value={kind}>
                {name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="To whom"
            value={shown?.audience ?? goods.audiences[0]?.name ?? ''}
            onChange={({ target }) => {
              change({ shown: shown?.kind ?? 'buy', to: target.value });
            }}
          >
            {goods.audiences.map(({ name }) => (
              <MenuItem key={name} value={name}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        </OneFilter>
        {isFiltered(filter) && search === undefined && (
          <button
            type="button"
            className={styles.clear}
            onClick={() => {
              change({ where: null, by: null, shown: null, to: null });
            }}
          >
            Show everything
          </button>
        )}
      </div>
    </div>
  );
}

interface OneFilterProps {
  readonly label: string;
  readonly isOn: boolean;
  readonly onClear: () => void;
  readonly children: React.ReactNode;
}

/** A filter in a few words, which opens to be chosen. */
function OneFilter({ label, isOn, onClear, children }: OneFilterProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        className={isOn ? styles.filterOn : styles.filterOff}
        aria-haspopup="dialog"
        onClick={(event) => {
          setAnchor(event.currentTarget);
        }}
      >
        {label}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAnchor(null);
        }}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': label, sx: { mt: 1, p: 2, width: 300 } } }}
      >
        <div className={styles.filterFields}>
          {children}
          {isOn && (
            <div>
              <Button
                color="error"
                onClick={() => {
                  setAnchor(null);
                  onClear();
                }}
              >
                Remove
              </Button>
            </div>
          )}
        </div>
      </Popover>
    </>
  );
}
