import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { Quote } from '#core/contract/askingCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { Allowed } from '../session/Allowed.tsx';
import { useSeller } from '../goods/whose.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from '../shared/letters.module.css';
import { momentWords } from '../shared/times.ts';
import { useRequestChange } from '../shared/useRequestChange.ts';
import { AddVariant } from './AddVariant.tsx';
import { QuoteLines, type Line } from './QuoteLines.tsx';

const USUAL_DAYS = 14;

interface QuotePartProps {
  readonly quote: Quote;
  readonly part: Quote['parts'][number];
  readonly shop: ShopFacts;
}

/** Part of a quote priced by one seller or the shop, which may be all of it. */
export function QuotePart({ quote, part, shop }: QuotePartProps) {
  const isSeller = useSeller() !== null;
  const [isOpen, setOpen] = useState(isSeller || part.seller === null || quote.parts.length === 1);
  const name = part.seller?.name ?? shop.name;
  return (
    <section className={quote.parts.length > 1 ? styles.part : undefined} aria-label={`Priced by ${name}`}>
      {quote.parts.length > 1 && (
        <h3>
          {name} <small>{partWords(part, shop)}</small>
        </h3>
      )}
      {isOpen ? (
        <Pricing quote={quote} part={part} shop={shop} />
      ) : (
        <>
          <QuoteLines lines={linesOf(quote, part)} delivery={part.delivery} shop={shop} />
          {!isOver(quote) && (
            <Allowed permission="requests" quiet>
              <Button
                variant="outlined"
                onClick={() => {
                  setOpen(true);
                }}
              >
                Price it for {name}
              </Button>
            </Allowed>
          )}
        </>
      )}
    </section>
  );
}

const isOver = ({ state }: Quote) => state === 'accepted' || state === 'turnedDown';

const linesOf = ({ lines, parts }: Quote, { seller }: Quote['parts'][number]) =>
  parts.length === 1 ? lines : lines.filter((line) => line.seller === (seller?.id ?? null));

function partWords({ state, validUntil }: Quote['parts'][number], { zone }: ShopFacts): string {
  if (state === 'turnedDown') return 'declined';
  if (state === 'asked' || validUntil === null) return 'not priced yet';
  return `priced, good until ${momentWords(Date.parse(validUntil), zone)}`;
}

function Pricing({ quote, part, shop }: QuotePartProps) {
  const { id, state, isShared, validUntil } = quote;
  const isSent = validUntil !== null;
  const scale = 10 ** shop.exponent;
  const [lines, setLines] = useState<readonly Line[]>(() => linesOf(quote, part));
  const [delivery, setDelivery] = useState(part.delivery === null ? '' : String(part.delivery / scale));
  const [days, setDays] = useState(USUAL_DAYS);
  const [words, setWords] = useState(part.words);
  const of = { seller: part.seller?.id ?? null };
  const cost = delivery.trim() === '' ? null : Math.round(Number(delivery) * scale);
  const price = useRequestChange(keys.quotes, async () => {
    const body = {
      ...of,
      lines: lines.map(({ variant, units, unitPrice, today }) => ({ variant, units, unitPrice: unitPrice ?? today })),
      delivery: cost,
      days,
      words,
    };
    await send('PUT /api/quotes/{id}/price', { params: { id }, body });
  });
  const turnDown = useRequestChange(keys.quotes, async () => {
    await send('POST /api/quotes/{id}/refusal', { params: { id }, body: { ...of, words } });
  });
  const isClosed = isOver(quote);
  const error = price.error ?? turnDown.error;
  return (
    <Allowed permission="requests">
      <QuoteLines
        lines={lines}
        delivery={cost}
        shop={shop}
        {...(isClosed
          ? {}
          : {
              onChange: (line, how) => {
                setLines(lines.map((other) => (other === line ? { ...other, ...how } : other)));
              },
            })}
      />
      {!isClosed && (
        <>
          <div className={styles.pricing}>
            <AddVariant
              shop={shop}
              add={(line) => {
                if (!lines.some(({ variant }) => variant === line.variant)) setLines([...lines, line]);
              }}
            />
            <TextField
              label="Delivery"
              type="number"
              value={delivery}
              onChange={({ target }) => {
                setDelivery(target.value);
              }}
              slotProps={{ htmlInput: { min: 0, step: 1 / scale } }}
              sx={{ width: 120 }}
            />
            <TextField
              label="Valid for days"
              type="number"
              value={days}
              onChange={({ target }) => {
                setDays(Math.min(365, Math.max(1, Math.floor(Number(target.value)))));
              }}
              sx={{ width: 120 }}
            />
          </div>
          <div className={styles.reply}>
            <TextField
              label="A message with it"
              multiline
              minRows={3}
              value={words}
              onChange={({ target }) => {
                setWords(target.value);
              }}
            />
            {isShared && !isSent && (
              <p className={styles.hint}>
                {part.state === 'asked'
                  ? 'Others price the rest of it; the customer is sent one quote.'
                  : 'Priced. The customer is sent one quote, when the others have priced theirs too.'}
              </p>
            )}
            {error && <ErrorNote error={error} />}
            <div className={styles.acts}>
              <Button
                variant="contained"
                loading={price.isPending}
                onClick={() => {
                  price.mutate(undefined);
                }}
              >
                {isSent
                  ? 'Send again'
                  : !isShared
                    ? 'Send the quote'
                    : part.state === 'priced'
                      ? 'Price again'
                      : 'Price these lines'}
              </Button>
              <Button
                variant="outlined"
                disabled={
                  words.trim() === '' || part.state === 'turnedDown' || (state !== 'asked' && state !== 'priced')
                }
                loading={turnDown.isPending}
                onClick={() => {
                  turnDown.mutate(undefined);
                }}
              >
                Decline with this message
              </Button>
            </div>
          </div>
        </>
      )}
    </Allowed>
  );
}
