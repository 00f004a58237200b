import { Button } from '@mui/material';
import { lazy, Suspense } from 'react';
import { useMay } from '../session/useMay.ts';
import { useFilters } from '../shared/useFilters.ts';

const Dialog = lazy(async () => ({ default: (await import('./AudiencesDialog.tsx')).AudiencesDialog }));

/** Opens the audiences for editing, beside any proof; the address keeps it open. */
export function AudiencesButton() {
  const mayChange = useMay('draft');
  const [search, set] = useFilters();
  if (!mayChange) return null;
  return (
    <>
      <Button
        size="small"
        variant="outlined"
        onClick={() => {
          set('audiences', 'open');
        }}
      >
        Change audiences
      </Button>
      {search.has('audiences') && (
        <Suspense>
          <Dialog
            onClose={() => {
              set('audiences', null);
            }}
          />
        </Suspense>
      )}
    </>
  );
}
