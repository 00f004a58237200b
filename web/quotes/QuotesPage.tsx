import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { formatPrice } from '#core/texts/prices.ts';
import { useMay } from '../session/useMay.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useShop } from '../goods/useShop.ts';
import styles from '../shared/letters.module.css';
import { usePages } from '../shared/pages.tsx';
import { ageWords } from '../shared/times.ts';
import { queryOf, useFilters } from '../shared/useFilters.ts';
import { Toast } from '../shared/Toast.tsx';
import { WorkPage } from '../shared/WorkPage.tsx';
import { QuoteSheet } from './QuoteSheet.tsx';
import { STATE_NAMES, stateWords } from './stateNames.ts';

/** Screen of the quotes, which are priced, sent and followed until accepted or expired. */
export function QuotesPage() {
  const filters = useFilters();
  const query = queryOf(filters[0], ['search', 'state', 'product']);
  const [products, setProducts] = useState<readonly { product: string; title: string; count: number }[]>([]);
  const pages = usePages(
    keys.quotePages(query),
    async (after) => {
      const { body } = await send('GET /api/quotes', { query: { ...query, after } });
      setProducts(body.products);
      return { ...body, items: body.quotes };
    },
    { readAny: async (after) => (await send('GET /api/quotes', { query: { after, limit: 1 } })).body.quotes },
  );
  const [said, setSaid] = useState<string | null>(null);
  const shop = useShop();
  const ofShop = useMay('read');
  return (
    <>
      <WorkPage
        title="Quotes"
        one="quote"
        findBy="person"
        filters={filters}
        pages={pages}
        counted={`${pages.total} ${pages.total === 1 ? 'quote' : 'quotes'}`}
        states={STATE_NAMES}
        about={{
          name: 'product',
          options: products.map(({ product, title, count }) => [product, `${title} (${count})`]),
        }}
        none="No quote requests yet. A rule whose control is “ask for a price” lets shoppers send a quote sheet."
        acts={
          ofShop && (
            <Button variant="outlined" component={Link} to="/forms?form=quote">
              Change the form
            </Button>
          )
        }
        row={({ name, email, lines, total, createdAt, state, ...quote }) => ({
          title: name ?? email,
          more: (
            <>
              {lines.length} {lines.length === 1 ? 'line' : 'lines'}, {shop && formatPrice(total, shop, 'en')} ·{' '}
              {ageWords(createdAt)}
              <em className={state === 'asked' || quote.repliedAt !== null ? styles.waiting : undefined}>
                {stateWords({ state, ...quote })}
              </em>
            </>
          ),
        })}
      >
        {(quote) =>
          shop && <QuoteSheet key={`${quote.id} ${quote.changedAt}`} quote={quote} shop={shop} onSent={setSaid} />
        }
      </WorkPage>
      <Toast
        words={said}
        done={() => {
          setSaid(null);
        }}
      />
    </>
  );
}
