import { Slider } from '@mui/material';
import type { ComingInstant } from '#core/contract/rehearsalCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { useMoment } from '../shared/useMoment.ts';
import { momentWords } from '../shared/times.ts';
import styles from './rehearsal.module.css';

interface Props {
  readonly instants: readonly ComingInstant[];
  /** Epoch ms. */
  readonly from: number;
  readonly until: number;
  readonly shop: ShopFacts;
  readonly ruleName: (id: string) => string;
}

/** The coming year as a line with every change on it; dragging moves every preview. */
export function TimeLine({ instants, from, until, shop: { zone }, ruleName }: Props) {
  const { moment, isNow, look } = useMoment(zone);
  const next = instants.find(({ at }) => Date.parse(at) > moment);
  const before = instants.filter(({ at }) => Date.parse(at) < moment).at(-1);
  return (
    <section className={styles.line} aria-label="Time line">
      <Slider
        aria-label="The moment to look at"
        min={from}
        max={until}
        step={60_000}
        value={Math.min(until, Math.max(from, moment))}
        marks={instants.map(({ at }) => ({ value: Date.parse(at) }))}
        getAriaValueText={(value) => momentWords(value, zone)}
        valueLabelDisplay="auto"
        valueLabelFormat={(value) => momentWords(value, zone)}
        onChange={(_event, value) => {
          look(value);
        }}
      />
      <p>
        <button
          type="button"
          disabled={!before && isNow}
          onClick={() => {
            look(before ? Date.parse(before.at) : null);
          }}
        >
          ‹ The change before
        </button>
        <span>
          {next
            ? `Next: ${momentWords(Date.parse(next.at), zone)}, ${whatWords(next, ruleName)}`
            : 'No further change in the next 400 days.'}
        </span>
        <button
          type="button"
          disabled={!next}
          onClick={() => {
            if (next) look(Date.parse(next.at));
          }}
        >
          The next change ›
        </button>
      </p>
    </section>
  );
}

/** "Spring tubers begins, Winter rest ends" */
export function whatWords({ opens, closes, changed }: ComingInstant, ruleName: (id: string) => string): string {
  const lines = [...opens.map((id) => `${ruleName(id)} begins`), ...closes.map((id) => `${ruleName(id)} ends`)];
  return lines.join(', ') || `${changed} variants change`;
}
