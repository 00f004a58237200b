import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { Seller, SellerPublication } from '#core/contract/sellerCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import type { Names } from '#core/facts/wording.ts';
import { changesBetween } from '#core/rulebook/changes.ts';
import { EMPTY_RULEBOOK } from '#core/rulebook/rulebook.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { ChangeList } from '../editions/ChangeList.tsx';
import { useMay } from '../session/useMay.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { MoreButton, usePages } from '../shared/pages.tsx';
import { momentWords } from '../shared/times.ts';
import styles from './sellers.module.css';
import { useRestorePublication } from './useSellers.ts';

const PAGE = 10;

interface PublicationsProps {
  readonly seller: Seller;
  readonly names: Names;
  readonly zone: Zone;
}

/** Lists a seller's publications, the newest first. Each can be made live again after a look at the difference. */
export function Publications({ seller, names, zone }: PublicationsProps) {
  const mayRestore = useMay('publish');
  const [looked, setLooked] = useState<number | null>(null);
  const pages = usePages<SellerPublication>(keys.publications(seller.id), async (after) => {
    const query = { limit: PAGE, ...(after === undefined ? {} : { after: Number(after) }) };
    const { body } = await send('GET /api/sellers/{id}/publications', { params: { id: seller.id }, query });
    return { items: body.publications, total: body.publications.length, more: body.more };
  });
  if (pages.error) return <ErrorNote error={pages.error} />;
  if (pages.items.length === 0) return null;
  return (
    <section aria-label="Publications">
      <h3>Publications</h3>
      <ol className={styles.rules}>
        {pages.items.map((publication, index) => {
          const { number, publishedAt, publishedBy, allowedBy, rules } = publication;
          return (
            <li key={number}>
              <b>{momentWords(Date.parse(publishedAt), zone)}</b> by {publishedBy}
              {allowedBy !== null && `, approved by ${allowedBy}`} ·{' '}
              {rules.length === 1 ? 'one rule' : `${rules.length} rules`}{' '}
              {index === 0 ? (
                <span className={styles.quiet}>live</span>
              ) : (
                mayRestore &&
                looked !== number && (
                  <Button
                    size="small"
                    aria-label={`Set back to the publication of ${momentWords(Date.parse(publishedAt), zone)}`}
                    onClick={() => {
                      setLooked(number);
                    }}
                  >
                    Set back to this…
                  </Button>
                )
              )}
              {looked === number && (
                <Restoring
                  seller={seller}
                  publication={publication}
                  names={names}
                  done={() => {
                    setLooked(null);
                  }}
                />
              )}
            </li>
          );
        })}
      </ol>
      <MoreButton pages={pages} />
    </section>
  );
}

interface RestoringProps {
  readonly seller: Seller;
  readonly publication: SellerPublication;
  readonly names: Names;
  readonly done: () => void;
}

/** The difference that setting back makes, and the reason for it, which the seller reads. */
function Restoring({ seller, publication, names, done }: RestoringProps) {
  const restore = useRestorePublication();
  const [words, setWords] = useState('');
  const book = (rules: Seller['rules']) => ({ ...EMPTY_RULEBOOK, rules: [...rules] });
  const changes = changesBetween(book(seller.rules), book(publication.rules));
  return (
    <form
      className={styles.refusal}
      onSubmit={(event) => {
        event.preventDefault();
        restore.mutate({ id: seller.id, number: publication.number, words }, { onSuccess: done });
      }}
    >
      {changes.length === 0 ? (
        <p className={styles.quiet}>Its rules are the live ones.</p>
      ) : (
        <ChangeList changes={changes} names={names} />
      )}
      <TextField
        label="Reason, which the seller reads"
        value={words}
        multiline
        onChange={({ target }) => {
          setWords(target.value);
        }}
      />
      {restore.error && <ErrorNote error={restore.error} />}
      <div className={styles.acts}>
        <Button type="submit" variant="contained" loading={restore.isPending} disabled={changes.length === 0}>
          Make it live again
        </Button>
        <Button onClick={done}>Cancel</Button>
      </div>
    </form>
  );
}
