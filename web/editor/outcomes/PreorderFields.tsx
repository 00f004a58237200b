import { useState } from 'react';
import { Choose } from '../../shared/Choose.tsx';
import styles from '../fields/fields.module.css';
import { LocalisedFields } from '../../shared/LocalisedFields.tsx';
import { controlText } from '#core/controls/controls.ts';
import { DateTimeField } from '../../shared/DateTimeField.tsx';
import type { Goods } from '../../goods/useGoods.ts';
import { WholeNumber } from '../fields/NumberFields.tsx';
import { PER, type Of, type StandInProps } from './standIns.ts';
import { TimeSpanField } from '../fields/TimeSpanField.tsx';

export function CapFields({ control, goods, onChange }: StandInProps<Of<'preorder'>>) {
  const [cap, setCap] = useState<{ units: number | null; per: 'variant' | 'product' }>(
    control.cap ?? { units: null, per: 'variant' },
  );
  const set = (next: { units: number | null; per: 'variant' | 'product' }) => {
    setCap(next);
    const { units, per } = next;
    // A new cap closes sales when reached; the editor offers the alternative.
    const atEnd = control.cap ? {} : ({ atCap: 'close', closedText: closedTextIn(goods.shop) } as const);
    if (units !== null && units > 0) onChange({ ...control, ...atEnd, cap: { units, per } });
  };
  return (
    <>
      <WholeNumber
        label="At most, units"
        value={cap.units}
        min={1}
        onChange={(units) => {
          set({ ...cap, units });
        }}
      />
      <Choose
        label="Counted"
        words={PER}
        value={cap.per}
        onChange={(per) => {
          set({ ...cap, per });
        }}
      />
      {control.cap && <AtCapFields control={control} goods={goods} onChange={onChange} />}
    </>
  );
}

export function AtCapFields({ control, goods, onChange }: StandInProps<Of<'preorder'>>) {
  const { atCap: _atCap, closedText, ...rest } = control;
  const [way, setWay] = useState(control.atCap ?? 'next');
  return (
    <>
      <Choose
        label="When that many are reserved"
        words={AT_CAP}
        value={way}
        onChange={(next) => {
          setWay(next);
          if (next === 'next') onChange(rest);
          else onChange({ ...rest, atCap: 'close', closedText: closedText ?? closedTextIn(goods.shop) });
        }}
      />
      {way === 'close' && (
        <LocalisedFields
          label="Show instead"
          text={closedText}
          locales={goods.shop.locales}
          multiline
          preview
          onChange={(text) => {
            if (text !== undefined) onChange({ ...rest, atCap: 'close', closedText: text });
          }}
        />
      )}
    </>
  );
}

/** Our words for it, in the shop’s languages. */
const closedTextIn = (shop: Goods['shop']) => controlText('closed', shop);

const AT_CAP = { next: 'the rules below decide', close: 'show a text instead' } as const;

export function ShipsFields({ control, onChange }: StandInProps<Of<'preorder'>>) {
  const { ships } = control;
  const [way, setWay] = useState<'dates' | 'within'>(ships && 'within' in ships ? 'within' : 'dates');
  const dates = ships && !('within' in ships) ? ships : {};
  return (
    <>
      <Choose
        label="It ships"
        words={{ dates: 'on or between dates', within: 'within a time' }}
        value={way}
        onChange={setWay}
      />
      {way === 'within' ? (
        <TimeSpanField
          label="Within"
          span={ships && 'within' in ships ? ships.within : undefined}
          onChange={(within) => {
            onChange({ ...control, ships: { within } });
          }}
        />
      ) : (
        <div className={styles.pair}>
          {(['from', 'until'] as const).map((end) => (
            <DateTimeField
              key={end}
              kind="date"
              label={end === 'from' ? 'From' : 'Until'}
              value={dates[end] ?? ''}
              clearable
              onChange={(value) => {
                const entries = Object.entries({ ...dates, [end]: value }).filter(([, day]) => day !== '');
                const { ships: _ships, ...rest } = control;
                onChange(entries.length > 0 ? { ...rest, ships: Object.fromEntries(entries) } : rest);
              }}
            />
          ))}
        </div>
      )}
    </>
  );
}
