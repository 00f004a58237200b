import { Button } from '@mui/material';
import type { ShopFacts } from '#core/decide/subject.ts';
import type { Control, Outcome, Price } from '#core/rulebook/outcome.ts';
import styles from './editors.module.css';
import { Kinds } from './Kinds.tsx';
import { ListingFields } from './ListingFields.tsx';
import { LocalisedFields } from './LocalisedFields.tsx';
import { StandInFields } from './StandInFields.tsx';

export type OutcomePart = 'control' | 'onListing' | 'price' | 'express';

/** Which part of an outcome a place in the rule (`/then/…`) belongs to. */
export function outcomePart(pointer: string): OutcomePart {
  if (pointer.startsWith('/then/control/onListing')) return 'onListing';
  if (pointer.startsWith('/then/price')) return 'price';
  return pointer.startsWith('/then/express') ? 'express' : 'control';
}

interface OutcomeEditorProps {
  readonly pointer: string;
  readonly then: Outcome;
  readonly shop: ShopFacts;
  readonly onChange: (then: Outcome) => void;
  readonly onClose: () => void;
}

/** Changes one part of what a rule says. */
export function OutcomeEditor({ pointer, then, shop, onChange, onClose }: OutcomeEditorProps) {
  const part = outcomePart(pointer);
  const { locales } = shop;
  const { control } = then;
  return (
    <div className={styles.editor}>
      {part === 'control' && (
        <StandInFields
          control={control}
          locales={locales}
          focus={(['label', 'text', 'href'] as const).find((name) => pointer === `/then/control/${name}`)}
          onChange={(next) => {
            onChange({ ...then, control: withListing(next, control) });
          }}
        />
      )}
      {part === 'onListing' && control && (
        <ListingFields
          control={control}
          locales={locales}
          onChange={(next) => {
            onChange({ ...then, control: next });
          }}
        />
      )}
      {part === 'price' && (
        <PriceFields
          price={then.price}
          locales={locales}
          onChange={(price) => {
            onChange({ ...then, price });
          }}
        />
      )}
      {part === 'express' && (
        <>
          <Kinds
            label="Express pay"
            kinds={EXPRESS}
            chosen={then.express ?? 'follows'}
            autoFocus
            onChoose={(choice) => {
              onChange(choice === 'follows' ? without(then, 'express') : { ...then, express: choice });
            }}
          />
          <p className={styles.hint}>
            Unless a rule says otherwise, it is there only where the button is a plain purchase.
          </p>
        </>
      )}
      <footer>
        <Button
          color="error"
          disabled={part === 'onListing' ? control?.onListing === undefined : then[part] === undefined}
          onClick={() => {
            onChange(removed(then, part));
            onClose();
          }}
        >
          Take this out
        </Button>
      </footer>
    </div>
  );
}

const EXPRESS = [
  { value: 'follows', label: 'Follows the button' },
  { value: 'hide', label: 'Hidden' },
  { value: 'show', label: 'Shown' },
] as const;

function removed(then: Outcome, part: OutcomePart): Outcome {
  if (part !== 'onListing') return without(then, part);
  return then.control ? { ...then, control: without<Control>(then.control, 'onListing') } : then;
}

function without<T extends object>(value: T, key: keyof T): T {
  const copy = { ...value };
  Reflect.deleteProperty(copy, key);
  return copy;
}

/** The words for listings stay when the kind does, and another stand-in for listings stays in any case. */
function withListing(next: Omit<Control, 'onListing'>, before: Control | undefined): Control {
  const onListing = before?.onListing;
  const stays = onListing !== undefined && ('kind' in onListing || next.kind === before?.kind);
  return (stays ? { ...next, onListing } : next) as Control;
}

function PriceFields({
  price,
  locales,
  onChange,
}: {
  readonly price: Price | undefined;
  readonly locales: readonly string[];
  readonly onChange: (price: Price) => void;
}) {
  const chosen = price === undefined || price.show ? 'show' : 'hide';
  return (
    <>
      <Kinds
        label="The price"
        kinds={[
          { value: 'show', label: 'Shown' },
          { value: 'hide', label: 'Hidden' },
        ]}
        chosen={chosen}
        autoFocus
        onChoose={(choice) => {
          onChange(choice === 'show' ? { show: true } : { show: false });
        }}
      />
      {chosen === 'hide' && (
        <LocalisedFields
          label="In its place, say"
          text={price && !price.show ? price.text : undefined}
          locales={locales}
          onChange={(text) => {
            onChange(text === undefined ? { show: false } : { show: false, text });
          }}
        />
      )}
    </>
  );
}
