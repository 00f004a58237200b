import { Button } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { FirstSteps as Steps } from '#core/contract/firstStepsCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useMay } from '../session/useMay.ts';
import styles from './today.module.css';

const AGAIN_MS = 5000;

interface Step {
  readonly what: string;
  readonly to: string;
  readonly isDone: boolean;
  readonly is: string;
}

const count = (number: number, one: string, many: string) => `${number} ${number === 1 ? one : many}`;

const stepsOf = (found: Steps): readonly Step[] => [
  {
    what: 'Bring the catalog in',
    to: '/catalog?imports=open',
    isDone: found.products > 0,
    is: found.products > 0 ? count(found.products, 'product', 'products') : 'from a file that your shop writes',
  },
  {
    what: 'Bring your customers in',
    to: '/people?imports=open',
    isDone: found.people > 0 || found.isPeopleSkipped,
    is:
      found.people > 0
        ? count(found.people, 'person', 'people')
        : found.isPeopleSkipped
          ? 'left out for now'
          : 'where rules are for members or trade',
  },
  {
    what: 'Put the line on your pages',
    to: '/connection',
    isDone: found.lineSeenOn !== null || found.isControlFound,
    is: found.lineSeenOn === null ? 'one line in the head of every page' : `seen on ${found.lineSeenOn}`,
  },
  {
    what: 'Show where the button is',
    to: '/connection',
    isDone: found.isControlFound,
    is: found.isControlFound ? 'found, and live' : 'by pressing it on your own page',
  },
  {
    what: 'Write the first rule',
    to: '/rules',
    isDone: found.rules > 0,
    is: found.rules > 0 ? count(found.rules, 'rule', 'rules') : 'as a sentence',
  },
  {
    what: 'Publish',
    to: '/review',
    isDone: found.isPublished,
    is: found.isPublished ? 'live' : 'after a look at what changes',
  },
];

/** First steps of a new shop, until all are done; their state is detected. */
export function FirstSteps() {
  const client = useQueryClient();
  const mayImportPeople = useMay('people');
  const found = useQuery({
    queryKey: keys.firstSteps,
    queryFn: async () => (await send('GET /api/first-steps')).body,
    refetchOnMount: 'always',
    refetchInterval: ({ state }) =>
      state.data && stepsOf(state.data).some(({ isDone }) => !isDone) ? AGAIN_MS : false,
  });
  const skip = useMutation({
    mutationFn: (isSkipped: boolean) => send('PUT /api/first-steps/people', { body: { isSkipped } }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.firstSteps }),
  });
  if (!found.data) return null;
  const steps = stepsOf(found.data);
  const next = steps.find(({ isDone }) => !isDone);
  if (!next) return null;
  return (
    <section aria-labelledby="steps">
      <h2 id="steps">First steps</h2>
      <ol className={`${styles.list} ${styles.steps}`}>
        {steps.map((step) => (
          <li
            key={step.what}
            className={step.isDone ? styles.done : undefined}
            aria-current={step === next ? 'step' : undefined}
          >
            <Link to={step.to}>
              <b>
                <span aria-hidden="true" className={styles.tick}>
                  {step.isDone ? '✓' : ''}
                </span>
                {step.what}
                {step.isDone && <span className={styles.unseen}> (done)</span>}
              </b>
              <span>{step.is}</span>
            </Link>
            {step === next && step.to.startsWith('/people') && mayImportPeople && (
              <Button
                onClick={() => {
                  skip.mutate(true);
                }}
              >
                Go on without
              </Button>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
