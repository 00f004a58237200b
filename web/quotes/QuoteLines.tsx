import { TextField } from '@mui/material';
import type { Quote } from '#core/contract/askingCalls.ts';
import { quoteTotal } from '#core/fulfilment/quoteTotal.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { formatPrice } from '#core/texts/prices.ts';
import work from '../shared/worklist.module.css';

export type Line = Quote['lines'][number];

interface QuoteLinesProps {
  readonly lines: readonly Line[];
  /** Minor units. */
  readonly delivery: number | null;
  readonly shop: ShopFacts;
  /** Called with changes to a line; read-only without it. */
  readonly onChange?: (line: Line, how: Partial<Line>) => void;
}

/** Lines of a quote, with today's prices and stock and the quoted prices. */
export function QuoteLines({ lines, delivery, shop, onChange }: QuoteLinesProps) {
  const scale = 10 ** shop.exponent;
  const money = (amount: number) => formatPrice(amount, shop, 'en');
  return (
    <table className={work.table}>
      <thead>
        <tr>
          <th scope="col">Product</th>
          <th scope="col" className={work.number}>
            Stock
          </th>
          <th scope="col" className={work.number}>
            Today
          </th>
          <th scope="col" className={onChange ? undefined : work.number}>
            Units
          </th>
          <th scope="col" className={onChange ? undefined : work.number}>
            {onChange ? 'Your price' : 'Price'}
          </th>
          <th scope="col" className={work.number}>
            Total
          </th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.variant}>
            <th scope="row">
              {line.title}
              <small>{line.note}</small>
            </th>
            <td className={work.number}>{line.stock ?? 'not tracked'}</td>
            <td className={work.number}>{money(line.today)}</td>
            {onChange ? (
              <>
                <td>
                  <TextField
                    type="number"
                    defaultValue={line.units}
                    onChange={({ target }) => {
                      onChange(line, { units: Math.max(1, Math.floor(Number(target.value))) });
                    }}
                    slotProps={{ htmlInput: { min: 1, 'aria-label': `Units of ${line.title}` } }}
                    sx={{ width: 86 }}
                  />
                </td>
                <td>
                  <TextField
                    type="number"
                    defaultValue={((line.unitPrice ?? line.today) / scale).toFixed(shop.exponent)}
                    onChange={({ target }) => {
                      const { value } = target;
                      onChange(line, { unitPrice: value.trim() === '' ? null : Math.round(Number(value) * scale) });
                    }}
                    slotProps={{ htmlInput: { min: 0, step: 1 / scale, 'aria-label': `Price of ${line.title}` } }}
                    sx={{ width: 104 }}
                  />
                </td>
              </>
            ) : (
              <>
                <td className={work.number}>{line.units}</td>
                <td className={work.number}>{line.unitPrice === null ? 'none yet' : money(line.unitPrice)}</td>
              </>
            )}
            <td className={work.number}>{money(line.units * (line.unitPrice ?? line.today))}</td>
          </tr>
        ))}
        <tr>
          <th scope="row" colSpan={5}>
            Total{delivery === null ? '' : ', delivery included'}
          </th>
          <td className={work.number}>
            <b>{money(quoteTotal(lines, delivery))}</b>
          </td>
        </tr>
      </tbody>
    </table>
  );
}
