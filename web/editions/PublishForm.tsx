import { Button, TextField, ToggleButton, ToggleButtonGroup } from '@mui/material';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { Zone } from '#core/model/zone.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { withMoment } from '../shared/useMoment.ts';
import { useDraft } from '../draft/useDraft.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { instantOf, momentWords } from '../shared/times.ts';
import styles from './editions.module.css';
import { useMay } from '../session/useMay.ts';
import { usePublish } from '../live/useEditions.ts';
import { useOpeningActs } from '../live/useOpenings.ts';

interface Props {
  readonly next: number;
  readonly zone: Zone;
  readonly published: Rulebook;
  /** Why it cannot be published; null when it can. */
  readonly hindered: string | null;
}

/** A note, and then: now, or at a time. */
export function PublishForm({ next, zone, published, hindered: why }: Props) {
  const mayPublish = useMay('publish');
  const hindered = mayPublish ? why : 'You may change the draft. A publisher or an owner of the shop publishes it.';
  const draft = useDraft();
  const publish = usePublish();
  const { set } = useOpeningActs();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const [note, setNote] = useState('');
  const [isLater, setIsLater] = useState(false);
  const [when, setWhen] = useState('');
  const instant = when === '' ? null : instantOf(when, zone);
  const error = publish.error ?? set.error;
  const onPublish = async () => {
    const ifMatch = await draft.flush();
    if (!isLater) await publish.mutateAsync({ note, ifMatch });
    else if (instant !== null) await set.mutateAsync({ at: new Date(instant).toISOString(), note, ifMatch });
    await navigate(withMoment('/editions', search));
  };
  return (
    <div className={styles.publish}>
      <TextField
        label="A note for the history (optional)"
        multiline
        value={note}
        onChange={({ target }) => {
          setNote(target.value);
        }}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
      />
      <div className={styles.when}>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={isLater}
          aria-label="When"
          onChange={(_event, later: boolean | null) => {
            if (later !== null) setIsLater(later);
          }}
        >
          <ToggleButton value={false}>Now</ToggleButton>
          <ToggleButton value={true}>Scheduled</ToggleButton>
        </ToggleButtonGroup>
        {isLater && <DateTimeField kind="moment" label={`Opens, ${zone.name} time`} value={when} onChange={setWhen} />}
      </div>
      {error && <ErrorNote error={error} />}
      {hindered !== null && <p role="status">{hindered}</p>}
      <div>
        <Button
          variant="contained"
          size="medium"
          disabled={hindered !== null || draft.saving.state === 'conflict' || (isLater && instant === null)}
          loading={publish.isPending || set.isPending}
          onClick={() => void onPublish().catch(() => undefined)}
        >
          {!isLater
            ? `Publish edition ${next}`
            : instant === null
              ? 'Schedule'
              : `Open it ${momentWords(instant, zone)}`}
        </Button>
        <Button
          onClick={() => {
            draft.change(published);
          }}
        >
          Discard these changes
        </Button>
      </div>
    </div>
  );
}
