import { Link, useLocation } from 'react-router';
import { useAttention } from '../shared/usePageMap.ts';
import styles from './Frame.module.css';

/** Shows urgent matters on every screen, with links. */
export function Attention() {
  const { pathname } = useLocation();
  const broken = useAttention().data?.pageMapBroken ?? [];
  const [first] = broken;
  if (!first || pathname === '/connection') return null;
  const pages = new Set(broken.map(({ path }) => path)).size;
  return (
    <p className={styles.attention} role="status">
      The page map no longer finds everything on {pages === 1 ? first.path : `${pages} pages of the shop`}: its own
      controls show there. <Link to="/connection">See what is missing</Link>
    </p>
  );
}
