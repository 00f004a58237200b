import { Skeleton } from '@mui/material';
import { QUOTE_STATES, type listQuotes } from '#core/contract/askingCalls.ts';
import { formatPrice } from '#core/texts/placeholders.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useGoods } from '../goods/useGoods.ts';
import styles from '../shared/letters.module.css';
import lists from '../shared/lists.module.css';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { FindField, MoreButton, usePages } from '../shared/pages.tsx';
import { ageWords } from '../shared/times.ts';
import { queryOf, useFilters } from '../shared/useFilters.ts';
import { QuoteSheet } from './QuoteSheet.tsx';
import { STATE_NAMES } from './stateNames.ts';

/** Who asks a price for what: to be priced, sent, and followed until it is accepted or over. */
export function QuotesPage() {
  const [search, set] = useFilters();
  const query = queryOf(search, ['search', 'state']);
  const pages = usePages(keys.quotePages(query), async (after) => {
    const { body } = await send<typeof listQuotes>('get', `/api/quotes?${query}${after}`);
    return { ...body, items: body.quotes };
  });
  const goods = useGoods();
  const error = pages.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void pages.refetch()} />;
  const { items, total } = pages;
  const shown = items.find(({ id }) => id === search.get('quote')) ?? items[0];
  const shop = goods.data?.shop;
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Quotes</h1>
        <span className={lists.count} role="status">
          {pages.isPending ? 'looking…' : `${total} ${total === 1 ? 'quote' : 'quotes'}`}
        </span>
        <FindField
          className={lists.search}
          label="Find a quote"
          placeholder="Find by person"
          search={search}
          set={set}
        />
      </header>
      <div className={styles.columns}>
        <section className={styles.list} aria-label="Quotes" aria-busy={pages.isPending}>
          <div className={styles.filters}>
            {QUOTE_STATES.map((state) => (
              <button
                key={state}
                type="button"
                aria-pressed={search.get('state') === state}
                onClick={() => {
                  set('state', search.get('state') === state ? null : state);
                }}
              >
                {STATE_NAMES[state]}
              </button>
            ))}
          </div>
          {pages.isPending || !shop ? (
            [1, 2, 3].map((row) => <Skeleton key={row} variant="rounded" height={44} sx={{ m: 1 }} />)
          ) : items.length === 0 ? (
            <p className={lists.empty}>
              {query === ''
                ? 'Nobody has asked for a price yet. A rule whose control is “ask for a price” lets shoppers send a quote sheet.'
                : 'No quote fits. Take a filter off.'}
            </p>
          ) : (
            <ul>
              {items.map((quote) => (
                <li key={quote.id} className={quote === shown ? styles.chosen : undefined}>
                  <button
                    type="button"
                    aria-current={quote === shown}
                    onClick={() => {
                      set('quote', quote.id);
                    }}
                  >
                    <b>{quote.name ?? quote.email}</b>
                    <small>
                      {quote.lines.length} {quote.lines.length === 1 ? 'line' : 'lines'},{' '}
                      {formatPrice(quote.total, shop, 'en')} · {ageWords(quote.createdAt)}
                      <em className={quote.state === 'asked' ? styles.waiting : undefined}>
                        {STATE_NAMES[quote.state]}
                      </em>
                    </small>
                  </button>
                </li>
              ))}
            </ul>
          )}
          <MoreButton pages={pages} />
        </section>
        {shown && shop && <QuoteSheet key={`${shown.id} ${shown.changedAt}`} quote={shown} shop={shop} />}
      </div>
    </main>
  );
}
