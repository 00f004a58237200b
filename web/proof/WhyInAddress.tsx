import { useSearchParams } from 'react-router';
import type { Goods } from '../goods/useGoods.ts';
import { useFilters } from '../shared/useFilters.ts';
import type { Proof, Row } from './proofRows.ts';
import { Why } from './Why.tsx';

const NAME = 'why';

/** Keeps in the address which cell of a proof shows its reasons; Back closes them. */
export function useWhy(): (row: Row, audience: string) => void {
  const [, setSearch] = useSearchParams();
  return (row, audience) => {
    setSearch((before) => {
      const next = new URLSearchParams(before);
      next.set(NAME, `${row.key}~${audience}`);
      return next;
    });
  };
}

interface WhyInAddressProps {
  /** Rows that the proof may show. */
  readonly rows: readonly Row[];
  readonly proof: Proof;
  readonly goods: Goods;
}

/** The reasons of the cell that the address names, where it names one of a proof's. */
export function WhyInAddress({ rows, proof, goods }: WhyInAddressProps) {
  const [search, set] = useFilters();
  const [key, name] = search.get(NAME)?.split('~') ?? [];
  const row = rows.find((one) => one.key === key);
  const audience = goods.audiences.find((one) => one.name === name);
  if (!row || !audience) return null;
  return (
    <Why
      row={row}
      audience={audience}
      proof={proof}
      goods={goods}
      onClose={() => {
        set(NAME, null);
      }}
    />
  );
}
