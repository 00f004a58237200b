import { Button, LinearProgress } from '@mui/material';
import styles from './progress.module.css';
import type { InProgress } from './useProgress.ts';

interface Props {
  readonly question: {
    /** Last result, possibly of an earlier question. */
    readonly data: unknown;
    readonly isFetching: boolean;
    readonly isGivenUp: boolean;
    readonly refetch: () => unknown;
    readonly progress: InProgress;
  };
}

/** Progress of a long question, with buttons to stop it and to ask again. */
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
