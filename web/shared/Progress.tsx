import { Button, LinearProgress } from '@mui/material';
import styles from './progress.module.css';
import type { InProgress } from './useProgress.ts';

interface Props {
  readonly question: {
    /** What is known, if only of what was asked before. */
    readonly data: unknown;
    readonly isFetching: boolean;
    readonly isGivenUp: boolean;
    readonly refetch: () => unknown;
    readonly progress: InProgress;
  };
}

/** How far a question is that takes long, a way to give it up, and then one to ask again. */
export function Progress({ question: { data, isFetching, isGivenUp, refetch, progress } }: Props) {
  if (isGivenUp)
    return (
      <p className={styles.progress}>
        <span>Stopped before it finished.{data !== undefined && 'What you see is from before.'}</span>
        <Button size="small" onClick={() => void refetch()}>
          Look again
        </Button>
      </p>
    );
  if (!isFetching || progress.done === null) return null;
  const percent = Math.round(progress.done * 100);
  return (
    <p className={styles.progress}>
      <LinearProgress variant="determinate" value={percent} aria-label="Checking all products" />
      <span>{percent} % checked</span>
      <Button size="small" onClick={progress.stop}>
        Stop
      </Button>
    </p>
  );
}
