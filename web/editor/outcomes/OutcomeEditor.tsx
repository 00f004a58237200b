import { Button } from '@mui/material';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { Price } from '#core/aspects/price.ts';
import type { PlainControl } from '#core/controls/controls.ts';
import type { Goods } from '../../goods/useGoods.ts';
import { at, put } from '../../draft/edits.ts';
import type { AspectProps } from './aspect.ts';
import {
  AfterOrderFields,
  ExpressFields,
  LimitsFields,
  NoteFields,
  StyleFields,
  VisibilityFields,
  type AfterOrder,
  type Limits,
  type Note,
  type Visibility,
} from './AspectFields.tsx';
import styles from '../fields/fields.module.css';
import { PriceFields } from './PriceFields.tsx';
import { KindFields, ListingFields, StandInPart } from './StandInFields.tsx';
import type { ControlPart } from '#core/controls/control.ts';
import { isOptional, withoutPart } from './standIns.ts';
import { CartFields, CheckoutFields, type Cart, type Checkout } from './VisitFields.tsx';

/** Editor for a part of a rule's outcome. */
export type OutcomePart =
  | { readonly of: 'kind' | 'standIn' | 'onListing'; readonly place: string; readonly part?: ControlPart }
  | { readonly of: 'aspect'; readonly place: string; readonly aspect: AspectName };

type AspectName = Exclude<keyof Outcome, 'control'>;

/** Reads a pointer into a rule (`/then/…`, RFC 6901). */
export function outcomePart(pointer: string): OutcomePart {
  const [, , aspect, ...rest] = pointer.split('/');
  // A rule that says nothing yet begins with the button.
  if (aspect !== undefined && aspect !== 'control') {
    const place = aspect === 'notes' ? pointer : `/then/${aspect}`;
    return { of: 'aspect', place, aspect: aspect as AspectName };
  }
  const isListing = rest[0] === 'onListing';
  const place = isListing ? '/then/control/onListing' : '/then/control';
  const part = rest[isListing ? 1 : 0] as ControlPart | undefined;
  if (part) return { of: 'standIn', place, part };
  return { of: isListing ? 'onListing' : 'kind', place };
}

interface OutcomeEditorProps {
  readonly pointer: string;
  readonly then: Outcome;
  readonly goods: Goods;
  readonly onChange: (then: Outcome) => void;
  readonly onClose: () => void;
}

/** Edits one part of a rule's outcome. */
export function OutcomeEditor({ pointer, then, goods, onChange, onClose }: OutcomeEditorProps) {
  const opened = outcomePart(pointer);
  const set = (place: string, value: unknown) => {
    onChange(put({ then }, place, value).then);
  };
  const value = at({ then }, opened.place);
  const { control } = then;
  const standIn = value as PlainControl | undefined;
  const takeOut = () => {
    if (opened.of === 'standIn' && opened.part && standIn) set(opened.place, withoutPart(standIn, opened.part));
    else if (opened.of === 'aspect' && opened.aspect === 'notes') set(...withoutNote(then, opened.place));
    else set(opened.place, undefined);
    onClose();
  };
  const canTakeOut = opened.of === 'standIn' ? standIn && opened.part && isOptional(standIn, opened.part) : value;
  return (
    <div className={styles.editor}>
      {opened.of === 'kind' && (
        <KindFields
          control={control}
          onChange={(next) => {
            set('/then/control', keepingListing(next, control));
          }}
        />
      )}
      {opened.of === 'onListing' && control && (
        <ListingFields
          control={control}
          goods={goods}
          onChange={(next) => {
            set('/then/control', next);
          }}
        />
      )}
      {opened.of === 'standIn' && opened.part && standIn && (
        <StandInPart
          part={opened.part}
          control={standIn}
          goods={goods}
          onChange={(next) => {
            set(opened.place, next);
          }}
        />
      )}
      {opened.of === 'aspect' && (
        <AspectEditor
          aspect={opened.aspect}
          value={value}
          goods={goods}
          onChange={(next) => {
            set(opened.place, next);
          }}
        />
      )}
      <footer>
        {canTakeOut !== undefined && canTakeOut !== false && (
          <Button color="error" onClick={takeOut}>
            Remove
          </Button>
        )}
      </footer>
    </div>
  );
}

/** The words for listings stay when the kind does, and another stand-in for listings stays in any case. */
function keepingListing(next: PlainControl, before: Outcome['control']): PlainControl {
  const onListing = before?.onListing;
  const stays = onListing !== undefined && ('kind' in onListing || next.kind === before?.kind);
  return stays ? { ...next, ...{ onListing } } : next;
}

/** The last note takes the aspect with it: an empty list says nothing. */
const withoutNote = (then: Outcome, place: string): [string, undefined] =>
  then.notes?.length === 1 ? ['/then/notes', undefined] : [place, undefined];

function AspectEditor({ aspect, ...props }: AspectProps<unknown> & { readonly aspect: AspectName }) {
  // The value belongs to its aspect: the schema has validated the rule.
  switch (aspect) {
    case 'express':
      return <ExpressFields {...(props as AspectProps<'show' | 'hide'>)} />;
    case 'price':
      return <PriceFields {...(props as AspectProps<Price>)} />;
    case 'notes':
      return <NoteFields {...(props as AspectProps<Note>)} />;
    case 'limits':
      return <LimitsFields {...(props as AspectProps<Limits>)} />;
    case 'visibility':
      return <VisibilityFields {...(props as AspectProps<Visibility>)} />;
    case 'afterOrder':
      return <AfterOrderFields {...(props as AspectProps<AfterOrder>)} />;
    case 'style':
      return <StyleFields {...(props as AspectProps<string[]>)} />;
    case 'cart':
      return <CartFields {...(props as AspectProps<Cart>)} />;
    case 'checkout':
      return <CheckoutFields {...(props as AspectProps<Checkout>)} />;
  }
}
