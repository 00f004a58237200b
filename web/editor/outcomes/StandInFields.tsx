import { Checkbox, FormControlLabel, MenuItem, TextField } from '@mui/material';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import type { Control } from '#core/aspects/control.ts';
import type { ControlPart } from '#core/controls/control.ts';
import { type ControlKind, controlOf, type PlainControl } from '#core/controls/controls.ts';
import { NOTE_PLACE_NAMES } from '#core/model/notePlaces.ts';
import { useSeller } from '../../goods/whose.ts';
import { useForms } from '../../forms/useForms.ts';
import type { Goods } from '../../goods/useGoods.ts';
import styles from '../fields/fields.module.css';
import { HrefField } from './HrefField.tsx';
import { Kinds } from '../fields/Kinds.tsx';
import { LocalisedFields } from '../../shared/LocalisedFields.tsx';
import { Choose } from '../../shared/Choose.tsx';
import { PriceField } from '../fields/NumberFields.tsx';
import { SmallScreen } from './SmallScreen.tsx';
import { AtCapFields, CapFields, ShipsFields } from './PreorderFields.tsx';
import { hasPart, KINDS, type Of, PER, type StandInProps, turnedInto } from './standIns.ts';

/** Choice of the stand-in's kind. */
export function KindFields({
  control,
  onChange,
}: {
  readonly control: PlainControl | undefined;
  readonly onChange: (control: PlainControl) => void;
}) {
  // Keeps the settings of each kind, in case somebody returns to it.
  const before = useRef(new Map<ControlKind, PlainControl>());
  const seller = useSeller();
  return (
    <>
      <Kinds
        label="Instead of the button"
        kinds={seller ? KINDS.filter(({ value }) => seller.allowed.kinds.includes(value)) : KINDS}
        chosen={control?.kind}
        onChoose={(kind) => {
          if (control) before.current.set(control.kind, control);
          onChange(before.current.get(kind) ?? turnedInto(kind, control));
        }}
        autoFocus
      />
      {control && <p className={styles.hint}>{controlOf(control).offered.means}</p>}
    </>
  );
}

/** One part of a stand-in. */
export function StandInPart({ part, control, goods, onChange }: StandInProps & { readonly part: ControlPart }) {
  const { locales } = goods.shop;
  const value = (control as unknown as Record<string, unknown>)[part];
  const set = (next: unknown) => {
    onChange({ ...control, [part]: next });
  };
  switch (part) {
    case 'label':
      return (
        <>
          <LocalisedFields label="Label" text={labelOf(control)} locales={locales} autoFocus onChange={set} />
          <SmallScreen control={control} shop={goods.shop} />
        </>
      );
    case 'text':
    case 'joinedText':
    case 'addedText':
      return (
        <LocalisedFields
          label={TEXTS[part]}
          text={value as Of<'notice'>['text'] | undefined}
          locales={locales}
          multiline
          autoFocus
          preview
          onChange={(next) => {
            if (next !== undefined) set(next);
          }}
        />
      );
    case 'per':
      return <Choose label="One list" words={PER} value={value as 'variant' | 'product'} onChange={set} />;
    case 'href':
      return <LeadsToFields {...({ control, goods, onChange } as StandInProps<Of<'link'> | Of<'signIn'>>)} />;
    case 'signInAt':
      return (
        <HrefField
          href={value as string | undefined}
          may="page"
          label="To sign in or join, go to"
          autoFocus
          goods={goods}
          hint="{product.path} carries the product along, so that your page can lead back to it"
          onChange={(next) => {
            if (next !== undefined) set(next);
          }}
        />
      );
    case 'join':
      return <JoinFields {...({ control, goods, onChange } as StandInProps<Of<'signIn'>>)} />;
    case 'cap':
      return <CapFields {...({ control, goods, onChange } as StandInProps<Of<'preorder'>>)} />;
    case 'atCap':
      return <AtCapFields {...({ control, goods, onChange } as StandInProps<Of<'preorder'>>)} />;
    case 'ships':
      return <ShipsFields {...({ control, goods, onChange } as StandInProps<Of<'preorder'>>)} />;
    case 'form':
      return <FormFields {...({ control, goods, onChange } as StandInProps<Of<'enquiry'>>)} />;
    case 'min':
    case 'suggested':
      return (
        <PriceField
          label={part === 'min' ? 'At least' : 'Suggested'}
          value={value}
          goods={goods}
          onChange={(next) => {
            if (next !== null) set(next);
          }}
        />
      );
    case 'look':
      return <LookFields {...({ control, goods, onChange } as StandInProps<Of<'buy'>>)} />;
    case 'beside':
      return <p className={styles.hint}>The shop’s button and express pay stay, with this beside them.</p>;
    case 'account':
      return <p className={styles.hint}>Only signed-in customers can join; others are asked to sign in.</p>;
  }
}

const TEXTS = { text: 'Text', joinedText: 'After joining, show', addedText: 'After adding, show' } as const;
const labelOf = (control: PlainControl) => ('label' in control ? control.label : undefined);

function LeadsToFields({ control, goods, onChange }: StandInProps<Of<'link'> | Of<'signIn'>>) {
  const link = hasPart(control.kind, 'newTab') ? (control as Of<'link'>) : null;
  return (
    <>
      <HrefField
        href={control.href}
        may={link ? 'anything' : 'page'}
        goods={goods}
        autoFocus
        hint={link ? undefined : '{product.path} carries the product along, so that your page can lead back to it'}
        onChange={(href) => {
          if (href !== undefined) onChange({ ...control, href });
        }}
      />
      {link && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={link.newTab === true}
              onChange={({ target }) => {
                const { newTab: _before, ...rest } = link;
                onChange(target.checked ? { ...rest, newTab: true } : rest);
              }}
            />
          }
          label="In a new tab"
        />
      )}
    </>
  );
}

/** Edits the link that visitors get once signed in, if they still may not buy. */
function JoinFields({ control, goods, onChange }: StandInProps<Of<'signIn'>>) {
  const { join } = control;
  return (
    <>
      <HrefField
        href={join?.href}
        may="page"
        label="Signed-in customers go to"
        autoFocus
        goods={goods}
        onChange={(href) => {
          if (href !== undefined) onChange({ ...control, join: { ...join, href } });
        }}
      />
      {join && (
        <LocalisedFields
          label="Label"
          text={join.label}
          locales={goods.shop.locales}
          onChange={(label) => {
            const { label: _before, ...rest } = join;
            onChange({ ...control, join: label === undefined ? rest : { ...rest, label } });
          }}
        />
      )}
    </>
  );
}

function FormFields({ control, goods, onChange }: StandInProps<Of<'enquiry'>>) {
  const { form } = control;
  const isOurForm = typeof form === 'string';
  const forms = useForms().data?.filter(({ code }) => code !== 'quote');
  return (
    <>
      <Choose
        label="Shoppers fill in"
        words={{ own: 'a form', page: 'another page of the shop' }}
        value={isOurForm ? 'own' : 'page'}
        onChange={(way) => {
          onChange({ ...control, form: way === 'own' ? 'contact' : { page: '/contact' } });
        }}
      />
      {isOurForm ? (
        <TextField
          select
          label="The form"
          value={form}
          helperText={
            <Link to={`/forms?form=${form}`} target="_blank">
              What it asks for
            </Link>
          }
          onChange={({ target }) => {
            onChange({ ...control, form: target.value });
          }}
        >
          {[...new Set([form, ...(forms?.map(({ code }) => code) ?? [])])].map((code) => (
            <MenuItem key={code} value={code}>
              {code}
            </MenuItem>
          ))}
        </TextField>
      ) : (
        <HrefField
          href={form.page}
          may="page"
          goods={goods}
          autoFocus
          onChange={(page) => {
            if (page !== undefined) onChange({ ...control, form: { page } });
          }}
        />
      )}
      <Choose
        label="It opens"
        words={{ inline: 'on the page', dialog: 'in a dialog' }}
        value={control.open}
        onChange={(open) => {
          onChange({ ...control, open });
        }}
      />
      <Choose
        label="Where"
        words={{ control: 'instead of the button', ...NOTE_PLACE_NAMES }}
        value={control.place ?? 'control'}
        onChange={(where) => {
          const { place: _before, ...rest } = control;
          onChange(where === 'control' ? rest : { ...rest, place: where });
        }}
      />
    </>
  );
}

function LookFields({ control, onChange }: StandInProps<Of<'buy'>>) {
  const look = control.look ?? {};
  return (
    <>
      <div className={styles.pair}>
        {(['fill', 'ink'] as const).map((part) => (
          <TextField
            key={part}
            type="color"
            label={part === 'fill' ? 'Fill' : 'Words'}
            value={look[part] ?? (part === 'fill' ? '#16323a' : '#ffffff')}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { style: { height: 26, padding: '4px 8px' } } }}
            onChange={({ target }) => {
              onChange({ ...control, look: { ...look, [part]: target.value } });
            }}
          />
        ))}
      </div>
      <p className={styles.hint}>Without colours it looks like the shop’s button.</p>
    </>
  );
}

interface ListingProps {
  readonly control: Control;
  readonly goods: Goods;
  readonly onChange: (control: Control) => void;
}

/** Variation on listings: other words, or another stand-in. */
export function ListingFields({ control, goods, onChange }: ListingProps) {
  const { onListing } = control;
  const other = onListing && 'kind' in onListing ? onListing : undefined;
  const words =
    onListing && !('kind' in onListing) ? ('text' in onListing ? onListing.text : onListing.label) : undefined;
  const { labelled, isText } = controlOf(control);
  const hasWords = labelled !== null || isText === true;
  const [way, setWay] = useState<'words' | 'other'>(other || !hasWords ? 'other' : 'words');
  const update = (next: Control['onListing']) => {
    onChange({ ...control, onListing: next } as Control);
  };
  return (
    <>
      {hasWords && (
        <Choose
          label="On listings"
          words={{ words: 'other words', other: 'another stand-in' }}
          value={way}
          onChange={setWay}
        />
      )}
      {way === 'words' ? (
        <>
          <LocalisedFields
            label="On listings"
            text={words}
            locales={goods.shop.locales}
            autoFocus
            onChange={(next) => {
              if (next !== undefined) update(isText ? { text: next } : { label: next });
            }}
          />
          <p className={styles.hint}>On listings, cards of products stand side by side: short words fit best.</p>
        </>
      ) : (
        <KindFields control={other} onChange={update} />
      )}
    </>
  );
}
