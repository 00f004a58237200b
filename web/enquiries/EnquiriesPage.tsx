import { Button, Skeleton, TextField } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  ENQUIRY_STATES,
  type answerEnquiry,
  type Enquiry,
  type listEnquiries,
  type moveEnquiry,
} from '#core/contract/askingCalls.ts';
import type { Zone } from '#core/decide/zone.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useGoods } from '../goods/useGoods.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from '../shared/letters.module.css';
import lists from '../shared/lists.module.css';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { FindField, MoreButton, usePages } from '../shared/pages.tsx';
import { Answers, Thread } from '../shared/Thread.tsx';
import { ageWords, momentWords } from '../shared/times.ts';
import { queryOf, useFilters } from '../shared/useFilters.ts';

/** What shoppers ask about goods, to be answered; and how often each product is asked about. */
export function EnquiriesPage() {
  const [search, set] = useFilters();
  const query = queryOf(search, ['search', 'state', 'product']);
  const [products, setProducts] = useState<readonly { product: string; title: string; count: number }[]>([]);
  const pages = usePages(keys.enquiryPages(query), async (after) => {
    const { body } = await send<typeof listEnquiries>('get', `/api/enquiries?${query}${after}`);
    setProducts(body.products);
    return { ...body, items: body.enquiries };
  });
  const goods = useGoods();
  const error = pages.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void pages.refetch()} />;
  const { items, total } = pages;
  const shown = items.find(({ id }) => id === search.get('enquiry')) ?? items[0];
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Enquiries</h1>
        <span className={lists.count} role="status">
          {pages.isPending ? 'looking…' : `${total} ${total === 1 ? 'enquiry' : 'enquiries'}`}
        </span>
        <FindField
          className={lists.search}
          label="Find an enquiry"
          placeholder="Find by person or words"
          search={search}
          set={set}
        />
      </header>
      <div className={styles.columns}>
        <section className={styles.list} aria-label="Enquiries" aria-busy={pages.isPending}>
          <div className={styles.filters}>
            {ENQUIRY_STATES.map((state) => (
              <button
                key={state}
                type="button"
                aria-pressed={search.get('state') === state}
                onClick={() => {
                  set('state', search.get('state') === state ? null : state);
                }}
              >
                {state}
              </button>
            ))}
            <select
              aria-label="About"
              value={search.get('product') ?? ''}
              onChange={({ target }) => {
                set('product', target.value);
              }}
            >
              <option value="">about anything</option>
              {products.map(({ product, title, count }) => (
                <option key={product} value={product}>
                  {title} ({count})
                </option>
              ))}
            </select>
          </div>
          {pages.isPending || !goods.data ? (
            [1, 2, 3].map((row) => <Skeleton key={row} variant="rounded" height={44} sx={{ m: 1 }} />)
          ) : items.length === 0 ? (
            <p className={lists.empty}>
              {query === ''
                ? 'Nobody has asked anything yet. A rule whose control is a contact form lets shoppers ask about its goods.'
                : 'No enquiry fits. Take a filter off.'}
            </p>
          ) : (
            <ul>
              {items.map((enquiry) => (
                <li key={enquiry.id} className={enquiry === shown ? styles.chosen : undefined}>
                  <button
                    type="button"
                    aria-current={enquiry === shown}
                    onClick={() => {
                      set('enquiry', enquiry.id);
                    }}
                  >
                    <b>{enquiry.title ?? 'About the shop'}</b>
                    <small>
                      {enquiry.name ?? enquiry.email} · {ageWords(enquiry.createdAt)}
                      {enquiry.state === 'open' && <em className={styles.waiting}>open</em>}
                    </small>
                  </button>
                </li>
              ))}
            </ul>
          )}
          <MoreButton pages={pages} />
        </section>
        {shown && goods.data && <EnquirySheet key={shown.id} enquiry={shown} zone={goods.data.shop.zone} />}
      </div>
    </main>
  );
}

function useChange<T>(mutationFn: (given: T) => Promise<void>) {
  const client = useQueryClient();
  return useMutation({ mutationFn, onSettled: () => client.invalidateQueries({ queryKey: keys.enquiries }) });
}

function EnquirySheet({ enquiry, zone }: { readonly enquiry: Enquiry; readonly zone: Zone }) {
  const { id, title, state, name, email, customer, answers, said, createdAt } = enquiry;
  const [words, setWords] = useState('');
  const answer = useChange(async () => {
    await send<typeof answerEnquiry>('post', `/api/enquiries/${id}/answers`, { body: { words } });
    setWords('');
  });
  const move = useChange(async (to: Enquiry['state']) => {
    await send<typeof moveEnquiry>('patch', `/api/enquiries/${id}`, { body: { state: to } });
  });
  const error = answer.error ?? move.error;
  return (
    <section className={styles.letter} aria-label={title ?? 'Enquiry'}>
      <header>
        <h2>{title ?? 'About the shop'}</h2>
        <p>
          {[name, email, customer].filter(Boolean).join(' · ')} · asked {momentWords(Date.parse(createdAt), zone)} ·{' '}
          {state}
        </p>
      </header>
      <Answers answers={answers} />
      <Thread said={said} who={name ?? email} zone={zone} />
      <form
        className={styles.reply}
        onSubmit={(event) => {
          event.preventDefault();
          answer.mutate(undefined);
        }}
      >
        <TextField
          label="Your answer"
          multiline
          minRows={4}
          value={words}
          onChange={({ target }) => {
            setWords(target.value);
          }}
        />
        {error && <ErrorNote error={error} />}
        <div className={styles.acts}>
          <Button type="submit" variant="contained" disabled={words.trim() === ''} loading={answer.isPending}>
            Send the answer
          </Button>
          <Button
            variant="outlined"
            loading={move.isPending}
            onClick={() => {
              move.mutate(state === 'closed' ? 'open' : 'closed');
            }}
          >
            {state === 'closed' ? 'Open it again' : 'Close it'}
          </Button>
        </div>
      </form>
    </section>
  );
}
