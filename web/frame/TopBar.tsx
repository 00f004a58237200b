import { Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useLive } from '../live/useEditions.ts';
import { useGoods } from '../goods/useGoods.ts';
import { useChanges } from '../draft/useDraft.ts';
import { useSession, useSignOut } from '../session/useSession.ts';
import { momentWords } from '../shared/times.ts';
import styles from './Frame.module.css';
import { LookingAt } from './LookingAt.tsx';
import { Mark } from '../shared/Mark.tsx';
import { CommandPalette } from './CommandPalette.tsx';
import { withMoment } from '../shared/useMoment.ts';

/** Live edition, draft and the moment shown. */
export function TopBar() {
  const [search] = useSearchParams();
  const goods = useGoods();
  const live = useLive();
  const changes = useChanges();
  const zone = goods.data?.shop.zone;
  return (
    <header className={styles.band} data-screen-only>
      <Link className={styles.name} to={withMoment('/rules', search)}>
        <Mark /> Understudy
      </Link>
      <span className={styles.shop}>{goods.data?.shop.name}</span>
      <span className={styles.space} />
      {live.data && zone && (
        <Link
          className={`${styles.pill} ${styles.live} ${live.data.edition ? '' : styles.never}`}
          to={withMoment('/editions', search)}
        >
          {live.data.edition
            ? `Live: edition ${live.data.edition.number}, since ${momentWords(Date.parse(live.data.edition.publishedAt), zone)}`
            : 'Nothing live yet'}
        </Link>
      )}
      {changes && changes.length > 0 ? (
        <Link className={`${styles.pill} ${styles.draft}`} to={withMoment('/review', search)}>
          Draft: {changes.length === 1 ? '1 change' : `${changes.length} changes`} · Review
        </Link>
      ) : (
        <span className={`${styles.pill} ${styles.clean}`}>Draft: no changes</span>
      )}
      {zone && <LookingAt zone={zone} />}
      <CommandPalette />
      <Person />
    </header>
  );
}

function Person() {
  const session = useSession();
  const signOut = useSignOut();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const user = session.data?.user;
  if (!user) return null;
  return (
    <>
      <button
        type="button"
        className={`${styles.pill} ${styles.looking}`}
        aria-haspopup="menu"
        aria-label={`Signed in as ${user.name}`}
        onClick={(event) => {
          setAnchor(event.currentTarget);
        }}
      >
        {user.name.replace(/(\S)\S*\s*/g, '$1')}
      </button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAnchor(null);
        }}
      >
        <MenuItem disabled>{user.name}</MenuItem>
        <MenuItem
          component={Link}
          to="/texts"
          onClick={() => {
            setAnchor(null);
          }}
        >
          Shop texts
        </MenuItem>
        <MenuItem
          component={Link}
          to="/settings"
          onClick={() => {
            setAnchor(null);
          }}
        >
          Settings
        </MenuItem>
        <MenuItem component="a" href="/api/docs" target="_blank">
          API reference
        </MenuItem>
        <MenuItem
          onClick={() => {
            signOut.mutate();
          }}
        >
          Sign out
        </MenuItem>
      </Menu>
    </>
  );
}
