import { Button, MenuItem, Skeleton, TextField as Field } from '@mui/material';
import Papa from 'papaparse';
import type { ShopText } from '#core/contract/textCalls.ts';
import { useShop } from '../goods/useShop.ts';
import lists from '../shared/lists.module.css';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { FindField } from '../shared/pages.tsx';
import { saveAs } from '../shared/save.ts';
import { useFilters } from '../shared/useFilters.ts';
import { groupOf, GROUPS } from './groups.ts';
import { TextField } from './TextField.tsx';
import styles from './texts.module.css';
import { useTexts } from './useTexts.ts';

/** Screen of the shop's own texts, in each of its languages. */
export function TextsPage() {
  const texts = useTexts();
  const shop = useShop();
  const [search, set] = useFilters();
  if (texts.error) return <LoadFailed error={texts.error} retry={() => void texts.refetch()} />;
  if (!texts.data || !shop) return <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />;
  const { locales } = shop;
  const locale = locales.find((one) => one === search.get('locale')) ?? locales[0] ?? 'en';
  const wanted = (search.get('search') ?? '').toLowerCase();
  const onlyChanged = search.get('changed') === 'yes';
  const isShown = ({ default: ours, custom }: ShopText) =>
    (!onlyChanged || custom[locale] !== undefined) &&
    `${ours[locale] ?? ''} ${custom[locale] ?? ''}`.toLowerCase().includes(wanted);
  const shown = texts.data.filter(isShown);
  const changed = texts.data.filter(({ custom }) => custom[locale] !== undefined).length;
  const groups = GROUPS.map((group) => ({ ...group, texts: shown.filter(({ key }) => groupOf(key) === group.id) }));
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Shop texts</h1>
        <span className={lists.count} role="status">
          {texts.data.length} texts, {changed} changed
        </span>
        {locales.length > 1 && (
          <Field
            select
            label="Language"
            value={locale}
            fullWidth={false}
            sx={{ width: 150, flex: 'none' }}
            onChange={({ target }) => {
              set('locale', target.value);
            }}
          >
            {locales.map((one) => (
              <MenuItem key={one} value={one}>
                {languageName(one)}
              </MenuItem>
            ))}
          </Field>
        )}
        <FindField
          className={lists.search}
          label="Find a text"
          placeholder="Search the texts"
          search={search}
          set={set}
        />
        <Button
          variant="outlined"
          onClick={() => {
            const rows = texts.data.map(({ key, default: ours, custom }) => ({
              key,
              language: locale,
              default: ours[locale] ?? '',
              changed: custom[locale] ?? '',
            }));
            saveAs(`shop-texts-${locale}.csv`, 'text/csv', Papa.unparse(rows, { escapeFormulae: true }));
          }}
        >
          Export CSV
        </Button>
      </header>
      <div className={lists.columns}>
        <aside className={lists.aside} aria-label="Places">
          <h2>Show</h2>
          <ul>
            <li>
              <button
                type="button"
                aria-pressed={onlyChanged}
                onClick={() => {
                  set('changed', onlyChanged ? null : 'yes');
                }}
              >
                <span>Changed by you</span>
                <span className={lists.number}>{changed}</span>
              </button>
            </li>
          </ul>
          <h2>Places</h2>
          <ul>
            {groups.map(({ id, name, texts: found }) => (
              <li key={id}>
                <button
                  type="button"
                  disabled={found.length === 0}
                  onClick={() => {
                    document.getElementById(`texts-${id}`)?.scrollIntoView();
                  }}
                >
                  <span>{name}</span>
                  <span className={lists.number}>{found.length}</span>
                </button>
              </li>
            ))}
          </ul>
        </aside>
        <div className={styles.groups}>
          <p className={styles.lead}>
            Most texts that shoppers read come from rules. These are the defaults where a rule has none. Type over one
            to change it: it is saved and live when you leave the field.
          </p>
          {shown.length === 0 && <p className={styles.none}>No text has those words. Search for others.</p>}
          {groups.map(
            ({ id, name, where, texts: found }) =>
              found.length > 0 && (
                <section key={id} id={`texts-${id}`} aria-label={name} className={styles.group}>
                  <h2>{name}</h2>
                  <p>{where}</p>
                  <ul>
                    {found.map((text) => (
                      <TextField key={`${text.key} ${locale}`} text={text} locale={locale} />
                    ))}
                  </ul>
                </section>
              ),
          )}
        </div>
      </div>
    </main>
  );
}

const languageName = (locale: string) => new Intl.DisplayNames('en', { type: 'language' }).of(locale) ?? locale;
