import { Button } from '@mui/material';
import { useState } from 'react';
import type { Zone } from '#core/model/zone.ts';
import { Allowed } from '../session/Allowed.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { momentWords } from '../shared/times.ts';
import styles from './connection.module.css';
import { useEarlierMaps, useRestoreMap } from '../shared/usePageMap.ts';

/** The maps that were live, to be taken into the draft again. */
export function EarlierMaps({ zone }: { readonly zone: Zone }) {
  const [isOpen, setOpen] = useState(false);
  const earlier = useEarlierMaps(isOpen);
  const restore = useRestoreMap();
  const error = earlier.error ?? restore.error;
  const maps = earlier.data?.slice(1) ?? [];
  return (
    <details
      className={styles.earlier}
      onToggle={({ currentTarget }) => {
        setOpen(currentTarget.open);
      }}
    >
      <summary>Earlier page maps</summary>
      {error && <ErrorNote error={error} />}
      {earlier.data && maps.length === 0 && <p>No earlier page maps.</p>}
      <ul>
        {maps.map(({ id, publishedAt, savedBy, map }) => (
          <li key={id}>
            <span>
              {publishedAt && momentWords(Date.parse(publishedAt), zone)}, {savedBy} · <code>{map.control}</code>
            </span>
            <Allowed permission="draft" quiet>
              <Button
                onClick={() => {
                  restore.mutate(id);
                }}
              >
                Copy to the draft
              </Button>
            </Allowed>
          </li>
        ))}
      </ul>
    </details>
  );
}
