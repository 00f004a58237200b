import { Button, FormControlLabel, Skeleton, Switch, TextField } from '@mui/material';
import { useDeferredValue, useState } from 'react';
import { visitChanges } from '#core/engine/visit.ts';
import type { ImpactChange, ImpactGroup } from '#core/contract/rehearsalCalls.ts';
import type { Surface } from '#core/model/subject.ts';
import { useMoment } from '../shared/useMoment.ts';
import type { Goods } from '../goods/useGoods.ts';
import { Looks, othersIn } from '../proof/Looks.tsx';
import { StandIn } from '../proof/StandIn.tsx';
import { Choice } from '../shared/Choice.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { Progress } from '../shared/Progress.tsx';
import { saveAs } from '../shared/save.ts';
import { momentWords } from '../shared/times.ts';
import { oneOf, useFilters } from '../shared/useFilters.ts';
import styles from './impact.module.css';
import { impactAsCsv, useImpact, type Compared, type ImpactQuery } from './useImpact.ts';

interface Props {
  readonly compared: Compared;
  readonly goods: Goods;
}

/** In the order in which they are chosen from. */
const SURFACE_NAMES: Readonly<Record<Surface, string>> = {
  product: 'Product pages',
  listing: 'Listings',
  quickView: 'Quick views',
  cart: 'Carts',
  checkout: 'Checkouts',
};

/** Impact of other rules on shoppers, over the whole catalog and every audience. */
export function Impact({ compared, goods: { shop, audiences, vocabulary } }: Props) {
  const { moment, isNow } = useMoment(shop.zone);
  const [search, set] = useFilters();
  const [saving, setSaving] = useState(false);
  const nameOfMethod = (code: string) =>
    vocabulary.paymentMethods.find((method) => method.code === code)?.name ?? `“${code}”`;
  const query: ImpactQuery = {
    surface: oneOf(SURFACE_NAMES, search.get('surface')) ?? 'product',
    days: search.get('ahead') === 'year' ? 400 : undefined,
    at: isNow ? undefined : new Date(moment).toISOString(),
    group: search.get('group') ?? undefined,
    search: search.get('search') ?? undefined,
  };
  const revision = useDeferredValue(compared.revision);
  const question = useImpact({ ...compared, revision }, query);
  const { data: impact, changes, error, isFetching, more } = question;
  if (error) return <LoadFailed error={error} retry={() => void question.refetch()} />;
  const unit = query.surface === 'listing' ? 'products' : 'variants';
  const save = async () => {
    setSaving(true);
    saveAs('impact.csv', 'text/csv', await impactAsCsv(compared, query));
  };
  const chosen = impact?.groups.find(({ key }) => key === query.group);
  return (
    <section className={styles.impact} aria-labelledby="impact" aria-busy={isFetching}>
      <header>
        <h2 id="impact">What changes for shoppers</h2>
        {impact && impact.changed > 0 && (
          <Button
            variant="outlined"
            loading={saving}
            onClick={() =>
              void save().finally(() => {
                setSaving(false);
              })
            }
          >
            Export CSV
          </Button>
        )}
        <div className={styles.choices}>
          <Choice
            options={SURFACE_NAMES}
            value={query.surface}
            label="Surface"
            choose={(next) => {
              set('group', null);
              set('surface', next === 'product' ? null : next);
            }}
          />
          <FormControlLabel
            control={
              <Switch
                size="small"
                checked={query.days !== undefined}
                onChange={({ target }) => {
                  set('group', null);
                  set('ahead', target.checked ? 'year' : null);
                }}
              />
            }
            label="Include scheduled changes"
          />
        </div>
      </header>
      <Progress question={question} />
      {!impact ? (
        !question.isGivenUp && <Skeleton variant="rounded" height={72} />
      ) : (
        <>
          <p role="status">
            {impact.changed === 0
              ? `None of ${impact.looked} ${unit} changes for anyone`
              : `${impact.changed} of ${impact.looked} ${unit} change`}
            {isNow ? '' : `, as on ${momentWords(moment, shop.zone)}`}
            {impact.moments > 1
              ? `${isNow ? ', now' : ''} or at one of ${impact.moments - 1} scheduled changes in the next 400 days.`
              : '.'}
          </p>
          {impact.visits.map(({ audience, before, after }) => (
            <p key={audience}>
              {audience}: {visitChanges(before, after, nameOfMethod).join(', ')}.
            </p>
          ))}
          <ul className={styles.groups}>
            {impact.groups.map((group) => (
              <Group
                key={group.key}
                group={group}
                isForAll={group.audiences.length === audiences.length}
                isOpen={group === chosen}
                choose={() => {
                  set('group', group === chosen ? null : group.key);
                }}
              />
            ))}
          </ul>
          {chosen && (
            <>
              <TextField
                className={styles.search ?? ''}
                placeholder="Search by name"
                defaultValue={query.search ?? ''}
                slotProps={{ htmlInput: { 'aria-label': 'Find a change' } }}
                onChange={({ target }) => {
                  set('search', target.value.trim());
                }}
              />
              {changes.length === 0 && !isFetching ? (
                <p>No product has that name.</p>
              ) : (
                <Changes changes={changes} shop={shop} areDated={impact.moments > 1} />
              )}
              {more && (
                <Button variant="outlined" loading={isFetching} onClick={more}>
                  Show more
                </Button>
              )}
            </>
          )}
        </>
      )}
    </section>
  );
}

const listed = (names: readonly string[]) => new Intl.ListFormat('en-GB').format(names);

function Group({
  group,
  isForAll,
  isOpen,
  choose,
}: {
  readonly group: ImpactGroup;
  readonly isForAll: boolean;
  readonly isOpen: boolean;
  readonly choose: () => void;
}) {
  return (
    <li>
      <button type="button" aria-expanded={isOpen} onClick={choose}>
        <b>{group.count}</b>
        <Looks group={group} />
        <span>{listed(othersIn(group))}</span>
        <small>for {isForAll ? 'everybody' : listed(group.audiences)}</small>
      </button>
    </li>
  );
}

function Changes({
  changes,
  shop,
  areDated,
}: {
  readonly changes: readonly ImpactChange[];
  readonly shop: Goods['shop'];
  /** Whether several moments were looked at, so that each change has its own. */
  readonly areDated: boolean;
}) {
  return (
    <table className={styles.changes}>
      <thead>
        <tr>
          <th scope="col">Product</th>
          <th scope="col">For</th>
          <th scope="col">Now</th>
          <th scope="col">Then</th>
        </tr>
      </thead>
      <tbody>
        {changes.map(({ product, variant, title, audience, at, before, after }) => (
          <tr key={`${product} ${variant ?? ''} ${audience} ${at}`}>
            <th scope="row">{title}</th>
            <td>
              {audience}
              {areDated && <small>{momentWords(Date.parse(at), shop.zone)}</small>}
            </td>
            <td>
              <StandIn decision={before} shop={shop} />
            </td>
            <td>
              <StandIn decision={after} shop={shop} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
