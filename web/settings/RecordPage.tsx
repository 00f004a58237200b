import { Button, MenuItem, Skeleton, TextField } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { DraftDetail, type RecordEntry } from '#core/contract/recordCalls.ts';
import { didWords } from '#core/contract/recordWords.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { send, type QueryOf } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { insertRule, removeRule } from '../draft/edits.ts';
import { useDraft } from '../draft/useDraft.ts';
import { useMay } from '../session/useMay.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { FindField, MoreButton, usePages } from '../shared/pages.tsx';
import { momentWords } from '../shared/times.ts';
import { queryOf, queryText, useFilters } from '../shared/useFilters.ts';
import { useShop } from '../goods/useShop.ts';
import styles from './settings.module.css';

const read = async (query: QueryOf<'GET /api/record'>) => (await send('GET /api/record', { query })).body;

/** Screen of the record. */
export function RecordPage() {
  const [search, set] = useFilters();
  const query = queryOf(search, ['search', 'who']);
  const pages = usePages(keys.record(query), async (after) => {
    const { entries, ...page } = await read({ ...query, after });
    return { ...page, items: entries.map((entry) => ({ ...entry, id: String(entry.id) })) };
  });
  const people = useQuery({ queryKey: keys.record('people'), queryFn: async () => (await read({ limit: 1 })).people });
  if (pages.error) return <LoadFailed error={pages.error} retry={() => void pages.refetch()} />;
  if (pages.isPending) return <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />;
  return (
    <div className={styles.record}>
      <div className={styles.finding}>
        <FindField
          className={lists.search}
          label="Find in the record"
          placeholder="Search by what or about what"
          search={search}
          set={set}
        />
        <TextField
          select
          label="Who"
          value={search.get('who') ?? ''}
          fullWidth={false}
          sx={{ width: 220 }}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          onChange={({ target }) => {
            set('who', target.value);
          }}
        >
          <MenuItem value="">Everybody</MenuItem>
          {(people.data ?? []).map(({ who, email }) => (
            <MenuItem key={`${who} ${email ?? ''}`} value={email ?? who}>
              {who}
              {email !== null && <small className={styles.email}>{email}</small>}
            </MenuItem>
          ))}
        </TextField>
        <span className={lists.count} role="status">
          {pages.total === 1 ? '1 entry' : `${pages.total} entries`}
        </span>
        <Button variant="outlined" component="a" href={`/api/record.csv?${queryText(query)}`} download>
          Export
        </Button>
      </div>
      <div className={styles.found}>
        {pages.items.length === 0 ? (
          <p className={styles.hint}>
            {Object.keys(query).length === 0
              ? 'Nothing is written down yet.'
              : 'Nothing of the record fits. Search for less.'}
          </p>
        ) : (
          <table className={`${styles.people} ${styles.acted}`}>
            <thead>
              <tr>
                <th scope="col">When</th>
                <th scope="col">Who</th>
                <th scope="col">What</th>
                <th scope="col">About</th>
                <td />
              </tr>
            </thead>
            <tbody>
              {pages.items.map((entry) => (
                <Row key={entry.id} entry={{ ...entry, id: Number(entry.id) }} />
              ))}
            </tbody>
          </table>
        )}
        <MoreButton pages={pages} />
      </div>
    </div>
  );
}

function Row({ entry: { at, who, email, did, detail } }: { readonly entry: RecordEntry }) {
  const zone = useShop()?.zone;
  const draft = DraftDetail.safeParse(detail).data;
  return (
    <tr>
      <td>{zone && momentWords(Date.parse(at), zone)}</td>
      <td>
        {who}
        {email !== null && <small className={styles.email}>{email}</small>}
      </td>
      <td>{didWords(did)}</td>
      <td className={styles.about}>{draft ? draft.rules.join(', ') : aboutWords(detail)}</td>
      <td className={styles.acts}>{draft ? <PutBack detail={draft} /> : <Where detail={detail} did={did} />}</td>
    </tr>
  );
}

/** Puts the rules that somebody changed back into the draft as they were; an ordinary change, which can be undone. */
function PutBack({ detail }: { readonly detail: DraftDetail }) {
  const { rulebook, change } = useDraft();
  const may = useMay('draft');
  if (!rulebook || !may) return null;
  const back = withRulesBack(rulebook, detail);
  if (JSON.stringify(back) === JSON.stringify(rulebook)) return <span className={styles.hint}>as it was</span>;
  return (
    <Button
      onClick={() => {
        change(back);
      }}
    >
      Put back
    </Button>
  );
}

function withRulesBack(rulebook: Rulebook, { before }: DraftDetail): Rulebook {
  return Object.entries(before).reduce((now, [id, rule]) => {
    const index = now.rules.findIndex((one) => one.id === id);
    if (rule === null) return index < 0 ? now : removeRule(now, id);
    return insertRule(index < 0 ? now : removeRule(now, id), rule, index < 0 ? now.rules.length : index);
  }, rulebook);
}

/** Link to the changed thing, where it can be undone if possible. */
function Where({ detail, did }: Pick<RecordEntry, 'detail' | 'did'>) {
  const edition = detail.edition ?? detail.number;
  if (typeof edition === 'number' || typeof edition === 'string')
    return <Link to={`/editions/${edition}`}>Edition {edition}</Link>;
  if (did.includes('import')) return <Link to="/catalog?imports=recent">Imports</Link>;
  if (did.includes('/page-map')) return <Link to="/connection">Page map</Link>;
  return null;
}

const aboutWords = (detail: RecordEntry['detail']): string =>
  Object.entries(detail)
    .map(([name, value]) => {
      const words = typeof value === 'string' ? value : JSON.stringify(value);
      return name === 'times' ? `${words} times` : name === 'name' ? words : `${name === 'id' ? 'no.' : name} ${words}`;
    })
    .join(', ');
