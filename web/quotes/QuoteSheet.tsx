import { Button } from '@mui/material';
import type { Quote } from '#core/contract/askingCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { useSeller } from '../goods/whose.ts';
import styles from '../shared/letters.module.css';
import { Answers, Thread } from '../shared/Thread.tsx';
import { momentWords } from '../shared/times.ts';
import { QuotePart } from './QuotePart.tsx';
import { stateWords } from './stateNames.ts';

interface QuoteSheetProps {
  readonly quote: Quote;
  readonly shop: ShopFacts;
  /** Receives what was done, in words for a message. */
  readonly onSent: (words: string) => void;
}

/** One quote: the customer, the messages, and the lines, priced by their sellers. */
export function QuoteSheet({ quote, shop, onSent }: QuoteSheetProps) {
  const { name, email, customer, answers, messages, createdAt, validUntil, order, parts, delivery, total } = quote;
  const isSeller = useSeller() !== null;
  return (
    <section className={styles.letter} aria-label={`Quote for ${name ?? email}`}>
      <header>
        <h2>{name ?? email}</h2>
        <Button
          size="small"
          className={styles.print ?? ''}
          onClick={() => {
            window.print();
          }}
        >
          Print
        </Button>
        <p>
          {[name === null ? null : email, customer].filter(Boolean).join(' · ')} · asked{' '}
          {momentWords(Date.parse(createdAt), shop.zone)} · {stateWords(quote)}
          {validUntil !== null && `, valid until ${momentWords(Date.parse(validUntil), shop.zone)}`}
          {order !== null && `, ordered as ${order}`}
        </p>
      </header>
      <Answers answers={answers} />
      <Thread messages={messages} who={name ?? email} zone={shop.zone} isSeller={isSeller} />
      {parts.map((part) => (
        <QuotePart key={part.seller?.id ?? ''} quote={quote} part={part} shop={shop} onSent={onSent} />
      ))}
      {parts.length > 1 && (
        <p className={styles.whole}>
          <b>{formatPrice(total, shop, 'en')}</b> in all{delivery === null ? '' : ', delivery included'}
        </p>
      )}
    </section>
  );
}
