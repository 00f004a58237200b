import { Autocomplete, Button, TextField } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { priceQuote, Quote, turnDownQuote } from '#core/contract/askingCalls.ts';
import type { listProducts } from '#core/contract/shopCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { quoteTotal } from '#core/fulfilment/quoteTotal.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { Allowed } from '../session/Allowed.tsx';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from '../shared/letters.module.css';
import { Answers, Thread } from '../shared/Thread.tsx';
import { momentWords } from '../shared/times.ts';
import work from '../shared/worklist.module.css';
import { STATE_NAMES } from './stateNames.ts';

const USUAL_DAYS = 14;

type Line = Quote['lines'][number];

/** One quote: its lines with today's prices and stock, priced by hand, and what was said. */
export function QuoteSheet({ quote, shop }: { readonly quote: Quote; readonly shop: ShopFacts }) {
  const { id, state, name, email, customer, answers, messages, createdAt, validUntil, order } = quote;
  const scale = 10 ** shop.exponent;
  const [lines, setLines] = useState<readonly Line[]>(quote.lines);
  const [delivery, setDelivery] = useState(quote.delivery === null ? '' : String(quote.delivery / scale));
  const [days, setDays] = useState(USUAL_DAYS);
  const [words, setWords] = useState('');
  const client = useQueryClient();
  const onSettled = () => client.invalidateQueries({ queryKey: keys.quotes });
  const minor = (text: string) => (text.trim() === '' ? null : Math.round(Number(text) * scale));
  const price = useMutation({
    mutationFn: async () => {
      const body = {
        lines: lines.map(({ variant, units, unitPrice, today }) => ({ variant, units, unitPrice: unitPrice ?? today })),
        delivery: minor(delivery),
        days,
        words,
      };
      await send<typeof priceQuote>('put', `/api/quotes/${id}/price`, { body });
    },
    onSettled,
  });
  const turnDown = useMutation({
    mutationFn: async () => {
      await send<typeof turnDownQuote>('post', `/api/quotes/${id}/refusal`, { body: { words } });
    },
    onSettled,
  });
  const isOver = state === 'accepted' || state === 'turnedDown';
  const money = (amount: number) => formatPrice(amount, shop, 'en');
  const change = (line: Line, how: Partial<Line>) => {
    setLines(lines.map((other) => (other === line ? { ...other, ...how } : other)));
  };
  const error = price.error ?? turnDown.error;
  return (
    <section className={styles.letter} aria-label={`Quote for ${name ?? email}`}>
      <header>
        <h2>{name ?? email}</h2>
        <p>
          {[name === null ? null : email, customer].filter(Boolean).join(' · ')} · asked{' '}
          {momentWords(Date.parse(createdAt), shop.zone)} · {STATE_NAMES[state]}
          {validUntil !== null && `, valid until ${momentWords(Date.parse(validUntil), shop.zone)}`}
          {order !== null && `, ordered as ${order}`}
        </p>
      </header>
      <Answers answers={answers} />
      <Allowed permission="requests">
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
              <th scope="col">Units</th>
              <th scope="col">Your price</th>
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
                <td>
                  <TextField
                    type="number"
                    disabled={isOver}
                    defaultValue={line.units}
                    onChange={({ target }) => {
                      change(line, { units: Math.max(1, Math.floor(Number(target.value))) });
                    }}
                    slotProps={{ htmlInput: { min: 1, 'aria-label': `Units of ${line.title}` } }}
                    sx={{ width: 86 }}
                  />
                </td>
                <td>
                  <TextField
                    type="number"
                    disabled={isOver}
                    defaultValue={((line.unitPrice ?? line.today) / scale).toFixed(shop.exponent)}
                    onChange={({ target }) => {
                      change(line, { unitPrice: minor(target.value) });
                    }}
                    slotProps={{ htmlInput: { min: 0, step: 1 / scale, 'aria-label': `Price of ${line.title}` } }}
                    sx={{ width: 104 }}
                  />
                </td>
                <td className={work.number}>{money(line.units * (line.unitPrice ?? line.today))}</td>
              </tr>
            ))}
            <tr>
              <th scope="row" colSpan={5}>
                Total{delivery.trim() === '' ? '' : ', delivery included'}
              </th>
              <td className={work.number}>
                <b>{money(quoteTotal(lines, minor(delivery)))}</b>
              </td>
            </tr>
          </tbody>
        </table>
        {!isOver && (
          <div className={styles.pricing}>
            <AddProduct
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
        )}
      </Allowed>
      <Thread messages={messages} who={name ?? email} zone={shop.zone} />
      {!isOver && (
        <Allowed permission="requests" quiet>
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
            {error && <ErrorNote error={error} />}
            <div className={styles.acts}>
              <Button
                variant="contained"
                loading={price.isPending}
                onClick={() => {
                  price.mutate();
                }}
              >
                {state === 'asked' ? 'Send the quote' : 'Send again'}
              </Button>
              <Button
                variant="outlined"
                disabled={words.trim() === '' || (state !== 'asked' && state !== 'priced')}
                loading={turnDown.isPending}
                onClick={() => {
                  turnDown.mutate();
                }}
              >
                Decline with this message
              </Button>
            </div>
          </div>
        </Allowed>
      )}
    </section>
  );
}

/** Finds a variant to add to a quote. */
function AddProduct({ shop, add }: { readonly shop: ShopFacts; readonly add: (line: Line) => void }) {
  const [words, setWords] = useState('');
  const found = useQuery({
    queryKey: keys.products(`quote ${words}`),
    queryFn: async () => {
      const query = new URLSearchParams({ search: words, limit: '10' }).toString();
      return (await send<typeof listProducts>('get', `/api/products?${query}`)).body.products;
    },
    enabled: words.length > 1,
  });
  const options = (found.data ?? []).flatMap(({ title, variants }) =>
    variants.map((variant): Line => ({
      variant: variant.id,
      title: [wordsIn(title, null, shop.locales), variant.title].filter(Boolean).join(', '),
      units: 1,
      note: null,
      unitPrice: variant.price,
      today: variant.price,
      stock: variant.stock.tracked ? variant.stock.quantity : null,
    })),
  );
  return (
    <Autocomplete
      sx={{ width: 300 }}
      options={options}
      value={null}
      blurOnSelect
      inputValue={words}
      filterOptions={(all) => all}
      getOptionLabel={({ title }) => title}
      getOptionKey={({ variant }) => variant}
      noOptionsText={words.length > 1 ? 'No product has that name' : 'Type part of a name'}
      onInputChange={(_event, value, reason) => {
        setWords(reason === 'input' ? value : '');
      }}
      onChange={(_event, line) => {
        if (line) add(line);
      }}
      renderInput={(params) => <TextField {...params} label="Add a product" />}
    />
  );
}
