import { formatPrice } from '#core/texts/prices.ts';
import { quoteTotal } from '#core/fulfilment/quoteTotal.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import work from '../shared/worklist.module.css';
import type { Line } from './pricing.ts';

interface QuoteLinesProps {
  readonly lines: readonly Line[];
  /** Minor units. */
  readonly delivery: number | null;
  readonly shop: ShopFacts;
}

/** Lines of a quote, with today's prices and stock and the quoted prices. */
export function QuoteLines({ lines, delivery, shop }: QuoteLinesProps) {
  const money = (amount: number) => formatPrice(amount, shop, 'en');
  return (
    <table className={work.table}>
      <thead>
        <tr>
          <th scope="col">Product</th>
          {['Stock', 'Today', 'Units', 'Price', 'Total'].map((heading) => (
            <th key={heading} scope="col" className={work.number}>
              {heading}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.variant}>
            <th scope="row">
              {line.title}
              <small>{line.note}</small>
            </th>
            <td className={work.number}>{line.stock ?? 'untracked'}</td>
            <td className={work.number}>{money(line.today)}</td>
            <td className={work.number}>{line.units}</td>
            <td className={work.number}>{line.unitPrice === null ? 'none yet' : money(line.unitPrice)}</td>
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
