import { Button, Skeleton } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Connection } from '#core/contract/shopCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useGoods } from '../goods/useGoods.ts';
import { CopyLine } from '../shared/CopyLine.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { useMay } from '../session/useMay.ts';
import styles from './connection.module.css';
import { PageMapSection } from './PageMapSection.tsx';
import { ReplaceSecret } from './ReplaceSecret.tsx';
import { WebHooksSection } from './WebHooksSection.tsx';

/** Screen of the connection: instructions for the developer, and the page map. */
export function ConnectionPage() {
  const maySettings = useMay('settings');
  const connection = useQuery({
    queryKey: keys.connection,
    queryFn: async () => (await send('GET /api/connection')).body,
  });
  const goods = useGoods();
  const error = connection.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void connection.refetch()} />;
  if (!connection.data || !goods.data) return <Skeleton variant="rounded" height={320} sx={{ m: 4 }} />;
  return (
    <main className={styles.page}>
      <header className={styles.head}>
        <h1>Connection</h1>
        <a href="#map-heading">Page map</a>
        {maySettings && <a href="#hooks">Web hooks</a>}
        <a href="#developer-heading">For the developer</a>
      </header>
      <div className={styles.sections}>
        <PageMapSection zone={goods.data.shop.zone} />
        {maySettings && <WebHooksSection />}
      </div>
      <ForDeveloper connection={connection.data} />
    </main>
  );
}

function ForDeveloper({ connection }: { readonly connection: Connection }) {
  const { embedLine, visitorSecret } = connection;
  const [isShown, setShown] = useState(false);
  const guard = `curl -X POST ${location.origin}/v1/guard -H 'Content-Type: application/json' \\
  -d '{"via":"cart","lines":[{"variantId":"YOUR-VARIANT","quantity":1}]}'`;
  return (
    <aside className={styles.developer} aria-labelledby="developer-heading">
      <h2 id="developer-heading">For the shop’s developer, once</h2>
      <h3>1. A line in the head of every page</h3>
      <p>
        Before the style sheets, so that no wrong control is ever seen. For a visitor who is signed in, add{' '}
        <code>data-visitor</code> with their token; <code>data-locale</code> says the page’s language,{' '}
        <code>data-cart</code> what is in the cart.
      </p>
      <CopyLine text={embedLine} label="the line for the page" />
      <h3>2. A secret that signs who is visiting</h3>
      <p>
        The shop’s server makes a token (JWT, HS256) with <code>sub</code>, the customer’s id, and <code>exp</code>.
        Never put the secret into a page.
      </p>
      {visitorSecret === null ? (
        <p>Owners of the shop see the secret here.</p>
      ) : (
        <>
          <CopyLine text={visitorSecret} shown={isShown ? visitorSecret : '•'.repeat(43)} label="the secret" />
          <Button
            onClick={() => {
              setShown(!isShown);
            }}
          >
            {isShown ? 'Hide the secret' : 'Show the secret'}
          </Button>
          <ReplaceSecret oldIsValid={connection.oldSecretIsValid} />
        </>
      )}
      <h3>3. The guard, asked before anything is sold</h3>
      <p>
        When something is put into the cart and again at checkout: what a page withholds, the guard refuses.{' '}
        <a href="/api/docs" target="_blank" rel="noopener">
          The API reference
        </a>{' '}
        has all of it.
      </p>
      <CopyLine text={guard} label="an example of asking the guard" />
    </aside>
  );
}
