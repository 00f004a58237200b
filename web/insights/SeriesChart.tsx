import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { CountSeries } from '#core/contract/insightCalls.ts';
import { toLocal, type Zone } from '#core/model/zone.ts';
import { shortDay } from '../shared/times.ts';
import work from '../shared/worklist.module.css';
import { saveChart, type ChartFile } from './chartFile.ts';
import styles from './insights.module.css';

const MEASURES = {
  seen: { name: 'Seen', colour: 'var(--ink-soft)' },
  pressed: { name: 'Pressed', colour: 'var(--time)' },
  finished: { name: 'Orders, requests', colour: 'var(--outcome)' },
} as const;
type Measure = keyof typeof MEASURES;
const HEIGHT = 64;

interface SeriesChartProps {
  /** Its last day is today. */
  readonly series: CountSeries;
  /** Subject of the chart, for its heading. */
  readonly of: string;
  readonly zone: Zone;
  /** Address of the days as CSV. */
  readonly file: string;
  readonly editionAt: (number: number) => string;
}

/** Daily views, presses and results, each on its own scale, with editions marked. */
export function SeriesChart({ series, of, zone, file, editionAt }: SeriesChartProps) {
  const [isTable, setTable] = useState(false);
  const drawn = useRef<HTMLDivElement>(null);
  const navigate = useNavigate();
  const marks = marksOf(series, zone);
  const save = (kind: ChartFile) => {
    if (drawn.current) void saveChart(drawn.current, of, kind);
  };
  return (
    <section className={styles.chart} aria-label={`${of}, day by day`}>
      <div className={styles.over}>
        <h2>{of}</h2>
        <button
          type="button"
          className={work.state}
          aria-pressed={isTable}
          onClick={() => {
            setTable(!isTable);
          }}
        >
          As a table
        </button>
        <span className={styles.files}>
          Save as
          <a href={file} download>
            CSV
          </a>
          <button
            type="button"
            disabled={isTable}
            onClick={() => {
              save('svg');
            }}
          >
            SVG
          </button>
          <button
            type="button"
            disabled={isTable}
            onClick={() => {
              save('png');
            }}
          >
            PNG
          </button>
        </span>
      </div>
      {isTable ? (
        <SeriesTable series={series} marks={marks} />
      ) : (
        <div ref={drawn} className={styles.lines}>
          {(Object.keys(MEASURES) as Measure[]).map((measure, place, all) => (
            <SmallChart
              key={measure}
              measure={measure}
              days={series.days}
              marks={marks}
              hasMarks={place === 0}
              hasDays={place === all.length - 1}
              onMark={(number) => void navigate(editionAt(number))}
            />
          ))}
        </div>
      )}
    </section>
  );
}

/** A day with the editions that went live on it. */
interface DayMark {
  readonly day: string;
  readonly numbers: readonly number[];
  readonly note: string;
}

const localDay = (instant: number, zone: Zone) => new Date(toLocal(zone, instant)).toISOString().slice(0, 10);

function marksOf({ editions }: CountSeries, zone: Zone): DayMark[] {
  const byDay = new Map<string, DayMark>();
  for (const { number, publishedAt, note } of editions) {
    const day = localDay(Date.parse(publishedAt), zone);
    const there = byDay.get(day);
    const words = `Edition ${number}${note === null ? '' : `: ${note}`}`;
    byDay.set(day, {
      day,
      numbers: [...(there?.numbers ?? []), number],
      note: there ? `${there.note}; ${words}` : words,
    });
  }
  return [...byDay.values()];
}

interface SmallChartProps {
  readonly measure: Measure;
  readonly days: CountSeries['days'];
  readonly marks: readonly DayMark[];
  readonly hasMarks: boolean;
  readonly hasDays: boolean;
  readonly onMark: (number: number) => void;
}

function SmallChart({ measure, days, marks, hasMarks, hasDays, onMark }: SmallChartProps) {
  const { name, colour } = MEASURES[measure];
  const all = days.reduce((sum, day) => sum + day[measure], 0);
  const most = Math.max(...days.map((day) => day[measure]), 1);
  // Today is drawn from yesterday on, as it is not over yet.
  const drawn = days.map((day, place) => ({
    day: day.day,
    over: place === days.length - 1 ? null : day[measure],
    soFar: place >= days.length - 2 ? day[measure] : null,
  }));
  const margin = { top: hasMarks ? 20 : 6, right: 12, bottom: 0, left: 4 };
  return (
    <figure className={styles.small} data-name={name} data-total={all.toLocaleString('en-GB')}>
      <figcaption style={{ paddingTop: hasMarks ? 16 : 2 }}>
        <b style={{ color: colour }}>{name}</b>
        <span>{all.toLocaleString('en-GB')}</span>
      </figcaption>
      <ResponsiveContainer width="100%" height={HEIGHT + (hasMarks ? 16 : 0) + (hasDays ? 22 : 0)}>
        <LineChart data={drawn} syncId="insights" margin={margin} accessibilityLayer={false}>
          <XAxis
            dataKey="day"
            hide={!hasDays}
            height={22}
            tickFormatter={shortDay}
            minTickGap={36}
            tickLine={false}
            axisLine={{ stroke: 'var(--hairline-firm)' }}
            tick={{ fill: 'var(--ink-soft)', fontSize: 11.5 }}
          />
          <YAxis
            width={40}
            domain={[0, most]}
            ticks={[0, most]}
            tickLine={false}
            axisLine={false}
            tick={{ fill: 'var(--ink-soft)', fontSize: 11 }}
            tickFormatter={(value: number) => value.toLocaleString('en-GB', { notation: 'compact' })}
          />
          {marks.map(({ day, numbers, note }) => (
            <ReferenceLine
              key={day}
              x={day}
              stroke="var(--people)"
              strokeDasharray="3 3"
              {...(hasMarks
                ? {
                    label: (
                      <MarkLabel
                        words={numbers.length > 1 ? `${numbers[0] ?? ''}–${numbers.at(-1) ?? ''}` : String(numbers[0])}
                        note={note}
                        open={() => {
                          onMark(numbers.at(-1) ?? 1);
                        }}
                      />
                    ),
                  }
                : {})}
            />
          ))}
          <Tooltip
            isAnimationActive={false}
            cursor={{ stroke: 'var(--hairline-firm)' }}
            content={({ active, label }) => {
              const day = days.find((one) => one.day === label);
              return active && day ? (
                <p className={styles.hover}>
                  {shortDay(day.day)}: <b>{day[measure].toLocaleString('en-GB')}</b>
                  {day === days.at(-1) && ' so far'}
                </p>
              ) : null;
            }}
          />
          {(['over', 'soFar'] as const).map((part) => (
            <Line
              key={part}
              type="linear"
              dataKey={part}
              stroke={colour}
              strokeWidth={1.75}
              {...(part === 'soFar' ? { strokeDasharray: '2 3' } : {})}
              dot={days.length < 15 ? { r: 2, fill: colour, strokeWidth: 0 } : false}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </figure>
  );
}

interface MarkLabelProps {
  readonly words: string;
  readonly note: string;
  readonly open: () => void;
  /** Position of the line; set by the chart. */
  readonly viewBox?: { readonly x?: number; readonly y?: number };
}

/** An edition's number above its line, which links to its effect. */
function MarkLabel({ words, note, open, viewBox }: MarkLabelProps) {
  return (
    <text
      x={viewBox?.x ?? 0}
      y={(viewBox?.y ?? 0) - 6}
      textAnchor="middle"
      fontSize={11.5}
      fill="var(--people)"
      role="link"
      tabIndex={0}
      className={styles.mark}
      onClick={open}
      onKeyDown={({ key }) => {
        if (key === 'Enter') open();
      }}
    >
      <title>{note}</title>
      {words}
    </text>
  );
}

function SeriesTable({ series, marks }: { readonly series: CountSeries; readonly marks: readonly DayMark[] }) {
  const notes = new Map(marks.map(({ day, note }) => [day, note]));
  return (
    <div className={styles.days}>
      <table className={work.table}>
        <thead>
          <tr>
            <th scope="col">Day</th>
            {Object.values(MEASURES).map(({ name }) => (
              <th key={name} scope="col" className={work.number}>
                {name}
              </th>
            ))}
            <th scope="col">Came in</th>
          </tr>
        </thead>
        <tbody>
          {series.days.toReversed().map((day) => (
            <tr key={day.day}>
              <th scope="row">{shortDay(day.day)}</th>
              {(Object.keys(MEASURES) as Measure[]).map((measure) => (
                <td key={measure} className={work.number}>
                  {day[measure].toLocaleString('en-GB')}
                </td>
              ))}
              <td>{notes.get(day.day) ?? ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
