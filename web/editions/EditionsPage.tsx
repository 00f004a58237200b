import { Button, MenuItem, Skeleton, Snackbar, TextField } from '@mui/material';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import type { Edition } from '#core/contract/rulebookCalls.ts';
import { changesBetween } from '#core/rulebook/changes.ts';
import { Allowed } from '../session/Allowed.tsx';
import { withMoment } from '../shared/useMoment.ts';
import { namesFrom, useGoods, type Goods } from '../goods/useGoods.ts';
import { useChanges } from '../draft/useDraft.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { momentWords } from '../shared/times.ts';
import { useFilters } from '../shared/useFilters.ts';
import { Impact } from '../rehearsal/Impact.tsx';
import { Openings } from './Openings.tsx';
import { ChangeList } from './ChangeList.tsx';
import styles from './editions.module.css';
import { useEditionRules, useEditions, useRestore } from '../live/useEditions.ts';

/** Screen of the editions, each of which can be restored. */
export function EditionsPage() {
  const editions = useEditions();
  const goods = useGoods();
  const { number } = useParams();
  const [search] = useSearchParams();
  const [filter, setFilter] = useState('');
  const error = editions.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void editions.refetch()} />;
  if (!editions.data || !goods.data) return <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />;

  const all = editions.data.editions;
  const wanted = filter.trim().toLowerCase();
  const shown = all.filter((edition) =>
    `${edition.number} ${edition.note ?? ''} ${edition.publishedBy}`.toLowerCase().includes(wanted),
  );
  const chosen = all.find((edition) => edition.number === Number(number)) ?? all[0];
  const { zone } = goods.data.shop;
  if (!chosen) {
    return (
      <main className={styles.page}>
        <h1>Editions</h1>
        <p className={styles.lead}>
          Nothing has been published yet. <Link to="/review">Review the draft</Link> and publish it as edition 1.
        </p>
      </main>
    );
  }
  return (
    <main className={styles.columns}>
      <section aria-label="Editions" className={styles.list}>
        <header>
          <h1>Editions</h1>
        </header>
        {all.length > 5 && (
          <div className={styles.find}>
            <TextField
              placeholder="Search by note, name or number"
              value={filter}
              onChange={({ target }) => {
                setFilter(target.value);
              }}
              slotProps={{ htmlInput: { 'aria-label': 'Find an edition' } }}
            />
          </div>
        )}
        <Openings zone={zone} live={all[0]?.number ?? 0} />
        <ol>
          {shown.map((edition) => (
            <li key={edition.number} className={edition === chosen ? styles.chosen : undefined}>
              <Link to={withMoment(`/editions/${edition.number}`, search)} aria-current={edition === chosen}>
                <b>
                  Edition {edition.number} {edition.live && <span className={styles.live}>live</span>}
                </b>
                <span>{edition.note ?? 'No note'}</span>
                <small>
                  {momentWords(Date.parse(edition.publishedAt), zone)} · {edition.publishedBy} · {edition.rules} rules
                </small>
              </Link>
            </li>
          ))}
        </ol>
        {shown.length === 0 && <p className={styles.none}>No edition has “{filter}” in its note, name or number.</p>}
      </section>
      <EditionSheet
        key={chosen.number}
        edition={chosen}
        others={[...all.map(({ number: one }) => one), 0].filter((one) => one !== chosen.number)}
        goods={goods.data}
      />
    </main>
  );
}

function EditionSheet({
  edition,
  others,
  goods,
}: {
  readonly edition: Edition;
  /** The numbers of those it can be compared with; 0 is a shop without rules. */
  readonly others: readonly number[];
  readonly goods: Goods;
}) {
  const rules = useEditionRules(edition.number);
  const [search, set] = useFilters();
  const wanted = Number(search.get('with') ?? NaN);
  const withNumber = others.some((number) => number === wanted) ? wanted : edition.number - 1;
  const earlier = useEditionRules(withNumber);
  const restore = useRestore();
  const unpublished = useChanges();
  const [message, setMessage] = useState<string | null>(null);
  const { zone } = goods.shop;
  const changes = rules.data && earlier.data && changesBetween(earlier.data, rules.data);
  const hasDraft = (unpublished?.length ?? 0) > 0;
  const start = (to: 'live' | 'draft') => {
    restore.mutate(
      { number: edition.number, to },
      {
        onSuccess: ({ number }) => {
          setMessage(
            to === 'live' ? `Live again, as edition ${number}.` : `The draft now has edition ${number}’s rules.`,
          );
        },
      },
    );
  };
  return (
    <section className={styles.sheet} aria-label={`Edition ${edition.number}`}>
      <header>
        <div>
          <h2>
            Edition {edition.number} {edition.live && <span className={styles.live}>live</span>}
          </h2>
          <p className={styles.lead}>
            Published {momentWords(Date.parse(edition.publishedAt), zone)} ({zone.name}) by {edition.publishedBy}
            {edition.restoredFrom !== null && `, with the rules of edition ${edition.restoredFrom}`}.
          </p>
        </div>
        <Allowed permission="publish" quiet>
          <div className={styles.acts}>
            <Button
              variant="outlined"
              loading={restore.isPending}
              onClick={() => {
                start('draft');
              }}
            >
              Copy to the draft
            </Button>
            <Button
              variant="contained"
              disabled={edition.live}
              loading={restore.isPending}
              onClick={() => {
                start('live');
              }}
            >
              Make live again
            </Button>
          </div>
        </Allowed>
      </header>
      {hasDraft && (
        <p className={styles.hint}>
          Copying it to the draft replaces what is not published there (
          {unpublished?.length === 1 ? '1 change' : `${unpublished?.length} changes`}). Making it live leaves the draft
          as it is.
        </p>
      )}
      {restore.error && <ErrorNote error={restore.error} />}
      {rules.error && <ErrorNote error={rules.error} />}
      {edition.note && <blockquote>{edition.note}</blockquote>}
      <h2 className={styles.subhead}>
        {withNumber === 0 ? 'Its rules' : `What differs from edition ${withNumber}`}
        <TextField
          select
          size="small"
          value={withNumber}
          slotProps={{ htmlInput: { 'aria-label': 'Compare with' } }}
          onChange={({ target }) => {
            const next = Number(target.value);
            set('with', next === edition.number - 1 ? null : String(next));
          }}
        >
          {others.map((number) => (
            <MenuItem key={number} value={number}>
              {number === 0 ? 'compared with no rules' : `compared with edition ${number}`}
            </MenuItem>
          ))}
        </TextField>
      </h2>
      {changes &&
        (changes.length > 0 ? (
          <ChangeList changes={changes} names={namesFrom(goods)} />
        ) : (
          <p className={styles.lead}>Nothing: it has the same rules.</p>
        ))}
      {changes &&
        changes.length > 0 &&
        (search.get('impact') === 'seen' ? (
          <Impact
            compared={{ from: { edition: withNumber }, to: { edition: edition.number }, revision: 0 }}
            goods={goods}
          />
        ) : (
          <Button
            variant="outlined"
            onClick={() => {
              set('impact', 'seen');
            }}
          >
            See what that changes for shoppers
          </Button>
        ))}
      <Snackbar
        open={message !== null}
        message={message}
        autoHideDuration={8000}
        onClose={() => {
          setMessage(null);
        }}
      />
    </section>
  );
}
