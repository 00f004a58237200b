import { isAllowed } from '#core/requests/machine.ts';
import { enquiry as lifecycle, type EnquiryState } from '#core/requests/enquiry.ts';
import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Enquiry } from '#core/contract/askingCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { Allowed } from '../session/Allowed.tsx';
import { useMay } from '../session/useMay.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { usePageMap } from '../shared/usePageMap.ts';
import { useShop } from '../goods/useShop.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from '../shared/letters.module.css';
import { usePages } from '../shared/pages.tsx';
import { Answers, Thread } from '../shared/Thread.tsx';
import { ageWords, momentWords } from '../shared/times.ts';
import { queryOf, useFilters } from '../shared/useFilters.ts';
import { useRequestChange } from '../shared/useRequestChange.ts';
import { WorkPage } from '../shared/WorkPage.tsx';

const STATES = { open: 'open', answered: 'answered', closed: 'closed' } as const satisfies Record<EnquiryState, string>;

/** Screen of the enquiries, with the number about each product. */
export function EnquiriesPage() {
  const filters = useFilters();
  const query = queryOf(filters[0], ['search', 'state', 'product']);
  const [products, setProducts] = useState<readonly { product: string; title: string; count: number }[]>([]);
  const pages = usePages(
    keys.enquiryPages(query),
    async (after) => {
      const { body } = await send('GET /api/enquiries', { query: { ...query, after } });
      setProducts(body.products);
      return { ...body, items: body.enquiries };
    },
    { readAny: async (after) => (await send('GET /api/enquiries', { query: { after, limit: 1 } })).body.enquiries },
  );
  const shop = useShop();
  const ofShop = useMay('read');
  return (
    <WorkPage
      title="Enquiries"
      one="enquiry"
      findBy="person or words"
      filters={filters}
      pages={pages}
      counted={`${pages.total} ${pages.total === 1 ? 'enquiry' : 'enquiries'}`}
      states={STATES}
      about={{
        name: 'product',
        options: products.map(({ product, title, count }) => [product, `${title} (${count})`]),
      }}
      none="No enquiries yet. A rule whose control is a contact form lets shoppers ask about its products."
      acts={
        ofShop && (
          <Button variant="outlined" component={Link} to="/forms?form=contact">
            Change the forms
          </Button>
        )
      }
      row={({ title, name, email, createdAt, state }) => ({
        title: title ?? 'About the shop',
        more: (
          <>
            {name ?? email} · {ageWords(createdAt)}
            {state === 'open' && <em className={styles.waiting}>open</em>}
          </>
        ),
      })}
    >
      {(enquiry) => shop && <EnquirySheet key={enquiry.id} enquiry={enquiry} zone={shop.zone} />}
    </WorkPage>
  );
}

const useChange = <T,>(change: (given: T) => Promise<void>) => useRequestChange(keys.enquiries, change);

function EnquirySheet({ enquiry, zone }: { readonly enquiry: Enquiry; readonly zone: Zone }) {
  const { id, product, path, title, state, name, email, customer, answers, messages, createdAt } = enquiry;
  const ofShop = useMay('read');
  const site = usePageMap(ofShop).data?.live?.map.site;
  const [words, setWords] = useState('');
  const answer = useChange(async () => {
    await send('POST /api/enquiries/{id}/answers', { params: { id }, body: { words } });
    setWords('');
  });
  const move = useChange(async (to: Enquiry['state']) => {
    await send('PATCH /api/enquiries/{id}', { params: { id }, body: { state: to } });
  });
  const canClose = isAllowed(lifecycle, state, 'close', 'owner');
  const error = answer.error ?? move.error;
  return (
    <section className={styles.letter} aria-label={title ?? 'Enquiry'}>
      <header>
        <h2>
          {product === null ? (
            'About the shop'
          ) : ofShop ? (
            <Link to={`/catalog/${encodeURIComponent(product)}`}>{title ?? product}</Link>
          ) : (
            (title ?? product)
          )}
        </h2>
        <p>
          {name && `${name} · `}
          <a href={`mailto:${encodeURIComponent(email)}`}>{email}</a>
          {customer && ` · ${customer}`} · asked {momentWords(Date.parse(createdAt), zone)} · {state}
          {path && site && (
            <>
              {' · '}
              <a href={new URL(path, site).href} target="_blank" rel="noreferrer">
                its page in the shop
              </a>
            </>
          )}
        </p>
      </header>
      <Answers answers={answers} />
      <Thread messages={messages} who={name ?? email} zone={zone} isSeller={!ofShop} />
      <Allowed permission="requests">
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
                move.mutate(canClose ? 'closed' : 'open');
              }}
            >
              {canClose ? 'Close it' : 'Reopen'}
            </Button>
          </div>
        </form>
      </Allowed>
    </section>
  );
}
