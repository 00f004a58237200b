import { NavLink } from 'react-router';
import lists from '../shared/lists.module.css';
import work from '../shared/worklist.module.css';
import styles from './insights.module.css';
import { PERIOD_NAMES, type InPeriod } from './useInsights.ts';

const SCREENS = {
  '/insights': 'What was shown',
  '/insights/demand': 'Unmet demand',
  '/insights/editions': 'What editions did',
} as const;

interface InsightsHeadProps {
  readonly within: InPeriod;
  /** A short summary. */
  readonly counted: string;
}

/** Header of the insights screens, with tabs and period. */
export function InsightsHead({ within, counted }: InsightsHeadProps) {
  return (
    <header className={`${lists.head} ${styles.head}`}>
      <h1>Insights</h1>
      <nav aria-label="Insights" className={styles.screens}>
        {Object.entries(SCREENS).map(([path, name]) => (
          <NavLink key={path} to={within.to(path)} end={path === '/insights'}>
            {name}
          </NavLink>
        ))}
      </nav>
      <span className={lists.count} role="status">
        {counted}
      </span>
      <div className={styles.periods} role="group" aria-label="Period">
        {(Object.keys(PERIOD_NAMES) as (keyof typeof PERIOD_NAMES)[]).map((code) => (
          <button
            key={code}
            type="button"
            className={work.state}
            aria-pressed={code === within.chosen}
            onClick={() => {
              within.choose(code);
            }}
          >
            {PERIOD_NAMES[code]}
          </button>
        ))}
      </div>
    </header>
  );
}
