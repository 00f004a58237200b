import { Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { getConnection, PageMap } from '#core/contract/shopCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { CopyLine } from '../shared/CopyLine.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import styles from './connection.module.css';

/** What the shop's developer needs, once. */
export function ConnectionPage() {
  const connection = useQuery({
    queryKey: keys.connection,
    queryFn: async () => (await send<typeof getConnection>('get', '/api/connection')).body,
  });
  const [isShown, setShown] = useState(false);
  if (connection.error) return <LoadFailed error={connection.error} retry={() => void connection.refetch()} />;
  if (!connection.data) return null;
  const { embedLine, visitorSecret, pageMap } = connection.data;
  const guard = `curl -X POST ${location.origin}/v1/guard -H 'Content-Type: application/json' \\
  -d '{"via":"cart","lines":[{"variantId":"YOUR-VARIANT","quantity":1}]}'`;
  return (
    <main className={styles.page}>
      <h1>Connection</h1>
      <p className={styles.lead}>Three things connect a shop. Its developer does them once.</p>
      <h2>1. A line in the head of every page</h2>
      <p>
        Before the style sheets, so that no wrong control is ever seen. For a visitor who is signed in, add{' '}
        <code>data-visitor</code> with their token; <code>data-locale</code> says the page’s language.
      </p>
      <CopyLine text={embedLine} label="the line for the page" />
      <h2>2. A secret that signs who is visiting</h2>
      <p>
        The shop’s server makes a token (JWT, HS256) with <code>sub</code>, the customer’s id, and <code>exp</code>.
        Never put the secret into a page.
      </p>
      <CopyLine text={visitorSecret} shown={isShown ? visitorSecret : '•'.repeat(43)} label="the secret" />
      <Button
        onClick={() => {
          setShown(!isShown);
        }}
      >
        {isShown ? 'Hide the secret' : 'Show the secret'}
      </Button>
      <h2>3. The guard, asked before anything is sold</h2>
      <p>
        When something is put into the cart and again at checkout: what a page withholds, the guard refuses.{' '}
        <a href="/api/docs" target="_blank" rel="noopener">
          Calls for programs
        </a>{' '}
        has all of it.
      </p>
      <CopyLine text={guard} label="an example of asking the guard" />
      <h2>Where the controls sit</h2>
      {pageMap ? (
        <MapTable pageMap={pageMap} />
      ) : (
        <p>
          Nothing is said yet: the shop’s own controls stay. Send it to <code>PUT /api/page-map</code>.
        </p>
      )}
    </main>
  );
}

function MapTable({ pageMap }: { readonly pageMap: PageMap }) {
  const { productPage, card, control, express, price, variant } = pageMap;
  const rows = [
    ['A product’s page has an address like', productPage.path],
    ['and shows the product in', productPage.area],
    ['A card on a listing is', card.area],
    ['and links to its product by', card.link],
    ['The control is', control],
    ['Express pay is', express],
    ['The price is', price],
    ['The variant is chosen in', variant],
  ] as const;
  return (
    <table className={styles.map}>
      <tbody>
        {rows.map(([what, selector]) => (
          <tr key={what}>
            <th scope="row">{what}</th>
            <td>{selector === undefined ? 'not said' : <code>{selector}</code>}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
