import { useState } from 'react';
import type { Control, ListingControl } from '#core/rulebook/outcome.ts';
import { Kinds } from './Kinds.tsx';
import { LocalisedFields } from './LocalisedFields.tsx';
import { StandInFields } from './StandInFields.tsx';
import styles from './editors.module.css';

interface ListingFieldsProps {
  readonly control: Control;
  readonly locales: readonly string[];
  readonly onChange: (control: Control) => void;
}

type Way = 'words' | 'other';

/** How a stand-in differs on listings: in its words, or altogether. */
export function ListingFields({ control, locales, onChange }: ListingFieldsProps) {
  const { onListing } = control;
  const other = onListing && 'kind' in onListing ? onListing : undefined;
  const hasWords = control.kind !== 'nothing';
  const [way, setWay] = useState<Way>(other || !hasWords ? 'other' : 'words');
  const tell = (next: Control['onListing']) => {
    onChange((next === undefined ? { ...control, onListing: undefined } : { ...control, onListing: next }) as Control);
  };
  return (
    <>
      {hasWords && (
        <Kinds<Way>
          label="On listings"
          kinds={[
            { value: 'words', label: 'Other words' },
            { value: 'other', label: 'Another stand-in' },
          ]}
          chosen={way}
          onChoose={setWay}
          autoFocus
        />
      )}
      <p className={styles.hint}>On listings, cards of products stand side by side: short words fit best.</p>
      {way === 'words' ? (
        <LocalisedFields
          label="On listings"
          text={onListing && !('kind' in onListing) ? Object.values(onListing)[0] : undefined}
          locales={locales}
          onChange={(words) => {
            if (words !== undefined) tell(control.kind === 'notice' ? { text: words } : { label: words });
          }}
        />
      ) : (
        <StandInFields
          control={other}
          locales={locales}
          onChange={(next: ListingControl) => {
            tell(next);
          }}
        />
      )}
    </>
  );
}
