import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import { isSafeHref } from '#core/texts/href.ts';
import { usePageMap } from '../../shared/usePageMap.ts';
import type { Goods } from '../../goods/useGoods.ts';
import styles from '../fields/fields.module.css';
import { hrefFault } from './standIns.ts';

interface HrefFieldProps {
  readonly href: string | undefined;
  readonly may: 'page' | 'anything';
  readonly label?: string;
  readonly autoFocus?: boolean;
  readonly hint?: string | undefined;
  /** Whether it may contain product placeholders. */
  readonly goods?: Goods;
  /** Called with every valid address, and with undefined if empty. */
  readonly onChange: (href: string | undefined) => void;
}

/** Field for an address. */
export function HrefField({ href = '', may, label = 'Leads to', autoFocus, hint, goods, onChange }: HrefFieldProps) {
  const [text, setText] = useState(href);
  const pageMap = usePageMap();
  const site = pageMap.data?.live?.map.site;
  const fault = text === '' ? null : hrefFault(text, may);
  const set = (written: string) => {
    setText(written.trim());
    const next = pathOn(site, written.trim());
    if (next === '') onChange(undefined);
    else if (hrefFault(next, may) === null) onChange(next);
  };
  const suggestions = goods
    ? [{ label: 'The product’s own page', href: '{product.path}' }, ...attributesThatLead(goods)]
    : [];
  // Nothing can be pasted until it is known which addresses are the shop's.
  if (pageMap.isPending) return null;
  return (
    <>
      <TextField
        label={label}
        value={text}
        placeholder={may === 'anything' ? '/contact?about={product.id}' : '/closed'}
        autoFocus={autoFocus === true}
        error={fault !== null}
        helperText={fault ?? hint}
        onChange={({ target }) => {
          set(target.value);
        }}
        onBlur={() => {
          setText(pathOn(site, text));
        }}
      />
      {suggestions.length > 0 && (
        <div className={styles.kinds}>
          {suggestions.map((one) => (
            <Button
              key={one.href}
              variant="outlined"
              aria-pressed={text === one.href}
              onClick={() => {
                set(one.href);
              }}
            >
              {one.label}
            </Button>
          ))}
        </div>
      )}
    </>
  );
}

/** An address of the shop's own pages, as it is pasted from the browser, is taken as its path. */
function pathOn(site: string | undefined, text: string): string {
  if (site === undefined || !URL.canParse(text)) return text;
  const { origin, pathname, search, hash } = new URL(text);
  return origin === new URL(site).origin ? decodeBraces(pathname + search + hash) : text;
}

const decodeBraces = (path: string) => path.replaceAll('%7B', '{').replaceAll('%7D', '}');

/** Attributes whose values are addresses, in which each product may lead to a place of its own. */
function attributesThatLead({ products }: Goods): { label: string; href: string }[] {
  const names = new Set(
    products.flatMap(({ attributes }) =>
      Object.entries(attributes).flatMap(([name, value]) =>
        isSafeHref(value) && /^[\p{L}\p{N}_-]+$/u.test(name) ? name : [],
      ),
    ),
  );
  return [...names].slice(0, 6).map((name) => ({ label: `Its “${name}”`, href: `{product.attribute.${name}}` }));
}
