import { Button, Skeleton } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useForm } from 'react-hook-form';
import { Link } from 'react-router';
import type { SettingsEffect, ShopSettings } from '#core/contract/shopSettingsCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { send } from '../api/client.ts';
import { useMay } from '../session/useMay.ts';
import { currencies, languages, zones } from '../shared/choices.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { OneOf, Several } from '../shared/FromList.tsx';
import { useShop } from '../goods/useShop.ts';
import styles from './settings.module.css';
import { ShopDetails } from './ShopDetails.tsx';
import { FormText } from '../shared/FormText.tsx';

/** Settings of the whole shop. */
export function ShopPage() {
  const shop = useShop();
  if (!shop) return <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />;
  return <Settings key={JSON.stringify([shop.name, shop.zone.name, shop.locales, shop.currency])} shop={shop} />;
}

function Settings({ shop }: { readonly shop: ShopFacts }) {
  const client = useQueryClient();
  const mayChange = useMay('settings');
  const lists = useMemo(() => {
    const known = languages();
    const others = shop.locales.filter((locale) => !known.some(({ code }) => code === locale));
    return {
      zones: zones(),
      currencies: currencies(),
      languages: [...known, ...others.map((code) => ({ code, name: code }))],
    };
  }, [shop.locales]);
  const { handleSubmit, formState, control } = useForm<ShopSettings>({
    defaultValues: { name: shop.name, zone: shop.zone.name, locales: [...shop.locales], currency: shop.currency },
  });
  const trial = useMutation({
    mutationFn: async (body: ShopSettings) => (await send('POST /api/shop/trial', { body })).body,
  });
  const save = useMutation({
    mutationFn: (body: ShopSettings) => send('PUT /api/shop', { body }),
    onSuccess: () => {
      trial.reset();
      return client.invalidateQueries();
    },
  });
  const look = handleSubmit((given) => {
    trial.mutate(given);
  });
  return (
    <div className={styles.columns}>
      <div className={`${styles.stack} ${styles.narrow}`}>
        <section aria-labelledby="shop-heading">
          <h2 id="shop-heading">The shop</h2>
          <form
            className={styles.form}
            noValidate
            onChange={() => {
              trial.reset();
            }}
            onSubmit={(event) => void look(event)}
          >
            <FormText
              name="name"
              label="Name"
              control={control}
              rules={{ required: 'Write what the shop is called' }}
            />
            <OneOf name="zone" label="Time zone" options={lists.zones} control={control} />
            <OneOf name="currency" label="Currency" options={lists.currencies} control={control} />
            <Several
              name="locales"
              label="Languages"
              help="The first is the default"
              options={lists.languages}
              control={control}
            />
            {mayChange ? (
              !trial.data && (
                <Button type="submit" variant="contained" loading={trial.isPending} disabled={!formState.isDirty}>
                  See what changes
                </Button>
              )
            ) : (
              <p className={styles.hint}>Owners of the shop change these.</p>
            )}
          </form>
          {trial.error && <ErrorNote error={trial.error} />}
          {trial.data && (
            <div role="status" className={styles.effect}>
              <Effect effect={trial.data} wanted={trial.variables} />
              {save.error && <ErrorNote error={save.error} />}
              <Button
                variant="contained"
                loading={save.isPending}
                disabled={trial.data.decimals !== null}
                onClick={() => {
                  save.mutate(trial.variables);
                }}
              >
                Change the settings
              </Button>
              <Button
                onClick={() => {
                  trial.reset();
                }}
              >
                Not now
              </Button>
            </div>
          )}
        </section>
        <ShopDetails />
      </div>
      <aside className={styles.aside}>
        <section aria-labelledby="elsewhere">
          <h2 id="elsewhere">Set elsewhere</h2>
          <ul className={styles.links}>
            <li>
              <Link to="/texts">What shoppers read</Link>, in each language
            </li>
            <li>
              <Link to="/messages/settings">How messages look and go</Link>
            </li>
            <li>
              <Link to="/connection">Secrets and web hooks</Link>
            </li>
          </ul>
        </section>
      </aside>
    </div>
  );
}

const some = (number: number, one: string, many: string) => `${number} ${number === 1 ? one : many}`;

/** Further effects of the settings. */
function Effect({ effect, wanted }: { readonly effect: SettingsEffect; readonly wanted: ShopSettings }) {
  const { clock, datedRules, dates, prices, quotes, decimals, textsLost, defaultMoves } = effect;
  const hours = ({ before, after }: NonNullable<typeof clock>) =>
    `it is ${before.slice(11)} by the clock now, and will be ${after.slice(11)}`;
  const lines = [
    ...(clock
      ? [
          `The clock: ${hours(clock)}. Dates and times mean those of the new zone from then on${
            datedRules.length > 0 ? `: in ${some(datedRules.length, 'rule', 'rules')} (${datedRules.join(', ')})` : ''
          }${dates > 0 ? `, on ${some(dates, 'product', 'products')}` : ''}. Memberships that are there keep their moment.`,
        ]
      : []),
    ...(decimals
      ? [
          `${wanted.currency} has ${decimals.after} decimals and the shop’s currency ${decimals.before}: each of ${some(prices, 'price', 'prices')} would be another sum, so it cannot be changed while there are products.`,
        ]
      : prices > 0
        ? [
            `${some(prices, 'price', 'prices')}${quotes > 0 ? ` and ${some(quotes, 'quote', 'quotes')}` : ''} keep their numbers and are in ${wanted.currency} then: nothing is converted.`,
          ]
        : []),
    ...textsLost.map(
      ({ locale, rules }) =>
        `Nobody is shown ${locale} any more${rules.length > 0 ? `; ${some(rules.length, 'rule says', 'rules say')} something in it (${rules.join(', ')}), which is kept` : ''}.`,
    ),
    ...(defaultMoves ? [`${wanted.locales[0] ?? ''} is what a visitor of another language reads.`] : []),
  ];
  return (
    <>
      <h3>What changes</h3>
      {lines.length === 0 ? <p>Nothing else.</p> : lines.map((line) => <p key={line}>{line}</p>)}
    </>
  );
}
