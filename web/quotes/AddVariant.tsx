import { Autocomplete, TextField } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Product } from '#core/contract/shopCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { titleIn, useGoods } from '../goods/useGoods.ts';
import { useSeller } from '../goods/whose.ts';
import type { Line } from './pricing.ts';

const MOST = 10;

/** Products by a part of their name: of a seller, their own. */
function useFoundProducts(words: string, shop: ShopFacts): readonly Product[] {
  const isSeller = useSeller() !== null;
  const own = useGoods({ isWanted: isSeller }).data?.products ?? [];
  const found = useQuery({
    queryKey: keys.products(`quote ${words}`),
    queryFn: async () => (await send('GET /api/products', { query: { search: words, limit: MOST } })).body.products,
    enabled: words.length > 1 && !isSeller,
  });
  if (!isSeller) return found.data ?? [];
  const part = words.toLowerCase();
  return own.filter(({ title }) => titleIn(title, shop).toLowerCase().includes(part)).slice(0, MOST);
}

/** Makes a line of one unit at today's price. */
export const lineOf = ({ id, title }: Product, variant: Product['variants'][number], shop: ShopFacts): Line => ({
  product: id,
  variant: variant.id,
  title: [titleIn(title, shop), variant.title].filter(Boolean).join(', '),
  units: 1,
  note: null,
  unitPrice: variant.price,
  today: variant.price,
  stock: variant.stock.tracked ? variant.stock.quantity : null,
  seller: null,
});

/** Finds a variant to add to a quote. */
export function AddVariant({ shop, add }: { readonly shop: ShopFacts; readonly add: (line: Line) => void }) {
  const [words, setWords] = useState('');
  const options = useFoundProducts(words, shop).flatMap((product) =>
    product.variants.map((variant) => lineOf(product, variant, shop)),
  );
  return (
    <Autocomplete
      sx={{ width: 300 }}
      options={options}
      value={null}
      blurOnSelect
      inputValue={words}
      filterOptions={(all) => all}
      getOptionLabel={({ title }) => title}
      getOptionKey={({ variant }) => variant}
      noOptionsText={words.length > 1 ? 'No product has that name' : 'Type part of a name'}
      onInputChange={(_event, value, reason) => {
        setWords(reason === 'input' ? value : '');
      }}
      onChange={(_event, line) => {
        if (line) add(line);
      }}
      renderInput={(params) => <TextField {...params} label="Add a product" />}
    />
  );
}
