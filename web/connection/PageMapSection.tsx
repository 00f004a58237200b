import { Button, Skeleton, Snackbar, TextField } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { PageMap } from '#core/contract/pageMap.ts';
import { samePath } from '#core/model/names.ts';
import { patternSource } from '#core/contract/pathPattern.ts';
import type { MapCheck, MapVersion, NotDrawn } from '#core/contract/pageMapCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { Allowed } from '../session/Allowed.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { momentWords } from '../shared/times.ts';
import { useMay } from '../session/useMay.ts';
import styles from './connection.module.css';
import { EarlierMaps } from './EarlierMaps.tsx';
import { PART_NAMES, writeRow } from './mapRows.ts';
import { MapTable } from './MapTable.tsx';
import { NotStarted } from './NotStarted.tsx';
import {
  useCheck,
  useDiscardDraft,
  usePageMap,
  usePicker,
  usePickerProblem,
  usePublishMap,
  useSaveMap,
} from '../shared/usePageMap.ts';

/** Section of the page map: picked, checked and published. */
export function PageMapSection({ zone }: { readonly zone: Zone }) {
  const maps = usePageMap();
  if (maps.error) return <LoadFailed error={maps.error} retry={() => void maps.refetch()} />;
  if (!maps.data) return <Skeleton variant="rounded" height={320} />;
  return <Maps draft={maps.data.draft} live={maps.data.live} zone={zone} />;
}

interface MapsProps {
  readonly draft: MapVersion | null;
  readonly live: MapVersion | null;
  readonly zone: Zone;
}

function Maps({ draft, live, zone }: MapsProps) {
  const save = useSaveMap();
  const mayPublish = useMay('publish');
  const check = useCheck();
  const publish = usePublishMap();
  const discard = useDiscardDraft();
  const [thrownAway, setThrownAway] = useState<PageMap | null>(null);
  const shown = draft ?? live;
  const map = shown?.map;
  const when = (text: string) => momentWords(Date.parse(text), zone);
  const error = save.error ?? check.error ?? publish.error ?? discard.error;
  const put = (next: PageMap) => {
    save.mutate(next);
  };
  return (
    <section aria-labelledby="map-heading" className={styles.mapSection}>
      <header>
        <h2 id="map-heading">Where controls are on your pages</h2>
        <p>
          {live?.publishedAt
            ? `Live since ${when(live.publishedAt)}, by ${live.savedBy}.`
            : 'Nothing is live yet: the shop’s own controls stay.'}{' '}
          {draft && <span className={styles.draft}>Draft of {when(draft.savedAt)}, not live yet</span>}
        </p>
      </header>
      <Allowed permission="draft">
        <ShowControl map={map} />
      </Allowed>
      {live?.check && <Broken check={live.check} />}
      {error && <ErrorNote error={error} />}
      {map && (
        <>
          <Allowed permission="draft" quiet>
            <Pages map={map} put={put} />
            <div className={styles.acts}>
              <Button
                variant="outlined"
                loading={check.isPending}
                onClick={() => {
                  check.mutate(draft ? 'draft' : 'live');
                }}
              >
                Check these pages
              </Button>
              <Button
                variant="contained"
                disabled={!draft || !mayPublish}
                loading={publish.isPending}
                onClick={() => {
                  publish.mutate(undefined);
                }}
              >
                Publish the page map
              </Button>
              {draft && (
                <Button
                  onClick={() => {
                    setThrownAway(draft.map);
                    discard.mutate(undefined);
                  }}
                >
                  Discard the draft
                </Button>
              )}
              {shown.check && <span className={styles.checked}>Checked {when(shown.check.at)}</span>}
            </div>
            <MapTable
              map={map}
              live={draft ? (live?.map ?? null) : null}
              check={shown.check}
              change={(pointer, text) => {
                put(writeRow(map, pointer, text));
              }}
            />
          </Allowed>
          {shown.check?.pages.map(
            ({ path, notDrawn }) =>
              notDrawn && (
                <p key={path} role="status">
                  <b>{path}</b> could not be drawn: {NOT_DRAWN[notDrawn]}. It was read as the shop’s server sends it.
                </p>
              ),
          )}
          <p className={styles.hint}>
            {shown.check?.pages.some(({ isDrawn }) => isDrawn)
              ? 'The check draws each page in a browser, its scripts run and ours left out.'
              : 'The check reads pages as the shop’s server sends them. What a script draws later shows as –; shoppers’ browsers report when it is missing. With Chromium on Understudy’s machine, pages are drawn as well.'}
          </p>
        </>
      )}
      <EarlierMaps zone={zone} />
      <Snackbar
        open={thrownAway !== null && !draft}
        message="The draft of the page map is gone."
        autoHideDuration={10000}
        onClose={(_event, reason) => {
          if (reason !== 'clickaway') setThrownAway(null);
        }}
        action={
          <Button
            color="inherit"
            onClick={() => {
              if (thrownAway) put(thrownAway);
              setThrownAway(null);
            }}
          >
            Undo
          </Button>
        }
      />
    </section>
  );
}

/** Why the check's browser gave a page up. */
const NOT_DRAWN: Readonly<Record<NotDrawn, string>> = {
  tooSlow: 'its scripts needed more than 12 seconds of processor time, or more than a minute',
  tooMuchMemory: 'it needed more than 1 GB of memory',
  tooLong: 'it has more than 4 million characters',
  ended: 'the browser crashed on it',
};

/** Opens the shop, with the picker over it, in a window of its own. */
function ShowControl({ map }: { readonly map: PageMap | undefined }) {
  const picker = usePicker();
  const product = map?.pages?.find((path) => new RegExp(patternSource(map.productPage.path)).test(samePath(path)));
  const [page, setPage] = useState<string | null>(null);
  const address = page ?? (map?.site === undefined ? '' : new URL(product ?? '/', map.site).href);
  const shop = useRef<Window | null>(null);
  const problem = usePickerProblem(picker.data);
  const shown = picker.data?.page ?? '';
  useEffect(() => {
    // Nothing can be said on a page that lacks the line: its window is led where it can.
    if (problem === null || !shop.current || shop.current.closed) return;
    shop.current.location.href = `/connection/not-started?${String(new URLSearchParams({ page: shown, problem }))}`;
    shop.current = null;
  }, [problem, shown]);
  const open = () => {
    // Opened at once, for a window that comes later would be held back.
    const opened = window.open('about:blank', 'understudy-shop');
    shop.current = opened;
    picker.mutate(address.trim(), {
      onSuccess: (where) => {
        if (opened) opened.location.href = where.address;
        else location.assign(where.address);
      },
      onError: () => opened?.close(),
    });
  };
  return (
    <form
      className={styles.show}
      onSubmit={(event) => {
        event.preventDefault();
        open();
      }}
    >
      <TextField
        label="A product’s page on the shop"
        placeholder="https://…"
        value={address}
        onChange={({ target }) => {
          setPage(target.value);
        }}
      />
      <Button type="submit" variant="contained" loading={picker.isPending} disabled={address.trim() === ''}>
        Show me the control
      </Button>
      <p className={styles.hint}>
        The shop opens with a picker over it: it reads the page, you confirm or press what is meant. The line for the
        page must be there first.
      </p>
      {picker.error && <ErrorNote error={picker.error} />}
      {problem !== null && <NotStarted page={shown} problem={problem} />}
    </form>
  );
}

function Broken({ check: { broken } }: { readonly check: MapCheck }) {
  if (broken.length === 0) return null;
  return (
    <div className={styles.alarm} role="status">
      <h3>Something is missing from where the live map says</h3>
      <ul>
        {broken.map(({ path, part, seenBy }) => (
          <li key={`${path} ${part} ${seenBy}`}>
            <code>{path}</code> {part === null ? 'cannot be read' : `lacks “${PART_NAMES[part]}”`}
            {seenBy === 'shoppers' && ', as shoppers’ browsers report'}.
          </li>
        ))}
      </ul>
      <p>
        The shop shows its own controls there, and the guard still refuses. Show the control again, or change the
        selector below, and publish.
      </p>
    </div>
  );
}

/** Address of the shop, and the pages to check. */
function Pages({ map, put }: { readonly map: PageMap; readonly put: (map: PageMap) => void }) {
  const pages = (map.pages ?? []).join('\n');
  return (
    <div className={styles.pages}>
      <TextField
        key={`site ${map.site ?? ''}`}
        label="The shop is at"
        placeholder="https://…"
        defaultValue={map.site ?? ''}
        onBlur={({ target }) => {
          const { value } = target;
          if (value.trim() !== (map.site ?? '')) put(writeRow(map, '/site', value.trim()));
        }}
      />
      <TextField
        key={`pages ${pages}`}
        label="Pages to check, one path per line"
        multiline
        maxRows={6}
        defaultValue={pages}
        onBlur={({ target }) => {
          const { value } = target;
          if (value === pages) return;
          const { pages: _before, ...others } = map;
          const paths = value.split(/\s+/).filter(Boolean);
          put(paths.length === 0 ? others : { ...others, pages: paths });
        }}
      />
    </div>
  );
}
