import { controlOf } from '#core/controls/controls.ts';
import type { ResolvedAudience } from '#core/contract/audienceCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { titleIn } from '../goods/useGoods.ts';
import styles from './proof.module.css';
import type { Cell, ProofSurface, Row, Which } from './proofRows.ts';
import { CartStandIn, StandIn } from './StandIn.tsx';

interface ProofRowProps {
  readonly row: Row;
  readonly cells: readonly Cell[];
  readonly audiences: readonly ResolvedAudience[];
  readonly shop: ShopFacts;
  readonly surface: ProofSurface;
  readonly which?: Which;
  readonly onWhy: (audience: string) => void;
}

/** One variant (or product), through the eyes of every audience. A press asks why. */
export function ProofRow({ row, cells, audiences, shop, surface, which = 'draft', onWhy }: ProofRowProps) {
  const title = titleIn(row.product.title, shop);
  return (
    <tr>
      <th scope="row">
        {title}
        <small>{surface === 'listing' ? variantCount(row) : variantLine(row)}</small>
      </th>
      {cells.map(({ draft, live, visit, liveVisit, changed }, index) => {
        const name = audiences[index]?.name ?? '';
        return (
          <td key={name}>
            <button
              type="button"
              className={`${styles.cell} ${changed ? styles.changed : ''}`}
              aria-label={`${title}, ${name}: ${surface === 'cart' ? doorWords(visit) : wordsOf(draft)}${changed ? ', changed in the draft' : ''}. Why?`}
              onClick={() => {
                onWhy(name);
              }}
            >
              {(which === 'live' || (which === 'both' && changed)) && (
                <span className={which === 'both' ? styles.before : undefined}>
                  {surface === 'cart' ? <CartStandIn visit={liveVisit} /> : <StandIn decision={live} shop={shop} />}
                </span>
              )}
              {which !== 'live' &&
                (surface === 'cart' ? <CartStandIn visit={visit} /> : <StandIn decision={draft} shop={shop} />)}
            </button>
          </td>
        );
      })}
    </tr>
  );
}

const doorWords = ({ cart, checkout }: Cell['visit']) =>
  `cart ${cart.open ? 'open' : 'closed'}, checkout ${checkout.open ? 'open' : 'closed'}`;

const wordsOf = ({ control }: Cell['draft']) =>
  control.label ?? control.html?.replace(/<[^>]*>/g, '') ?? controlOf(control).name;

const variantCount = ({ product }: Row) =>
  product.variants.length === 1 ? '1 variant' : `${product.variants.length} variants`;

export function variantLine({ variant }: Row): string {
  const { tracked, quantity, sellPastZero } = variant.stock;
  const stock = tracked ? `${quantity} left${sellPastZero ? ', oversold allowed' : ''}` : 'untracked';
  return variant.title ? `${variant.title} · ${stock}` : stock;
}
