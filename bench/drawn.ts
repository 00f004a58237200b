/** One picture of a few curves, both axes by powers of ten. */
export interface Panel {
  readonly title: string;
  readonly unit: string;
  readonly lines: readonly { readonly name: string; readonly points: readonly { x: number; y: number }[] }[];
}

const [WIDTH, HEIGHT, LEFT, TOP, RIGHT, BOTTOM, A_ROW] = [300, 220, 44, 40, 26, 30, 3] as const;
const COLOURS = ['#2f6b4f', '#b4552d'];

/** An SVG of all panels, readable on white and on black. */
export function drawn(panels: readonly Panel[]): string {
  const rows = Math.ceil(panels.length / A_ROW);
  const parts = panels.map(
    (panel, index) =>
      `<g transform="translate(${(index % A_ROW) * WIDTH} ${Math.floor(index / A_ROW) * HEIGHT})">${panelOf(panel)}</g>`,
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH * A_ROW} ${HEIGHT * rows}" font-family="sans-serif" font-size="11" fill="#333"><rect width="100%" height="100%" fill="#fff"/>
${parts.join('\n')}
</svg>
`;
}

function panelOf({ title, unit, lines }: Panel): string {
  const points = lines.flatMap((line) => line.points);
  const x = scale(
    points.map((point) => point.x),
    LEFT,
    WIDTH - RIGHT,
  );
  const y = scale(
    points.map((point) => point.y),
    HEIGHT - BOTTOM,
    TOP,
  );
  const text = (at: string, words: string, more = '') => `<text ${at} ${more}>${words}</text>`;
  const grid = [
    ...x.ticks.map((value) =>
      text(`x="${x.of(value)}" y="${HEIGHT - BOTTOM + 15}"`, value.toLocaleString('en-GB'), 'text-anchor="middle"'),
    ),
    ...y.ticks.map(
      (value) =>
        `<path d="M${LEFT} ${y.of(value)}H${WIDTH - RIGHT}" stroke="#ddd"/>${text(`x="${LEFT - 5}" y="${y.of(value) + 4}"`, String(value), 'text-anchor="end"')}`,
    ),
  ];
  const curves = lines.map(({ name, points: found }, index) => {
    const path = found.map((point) => `${x.of(point.x)} ${y.of(point.y)}`).join('L');
    const last = found.at(-1) ?? { x: 1, y: 1 };
    const colour = COLOURS[index % COLOURS.length];
    const dots = found.map((point) => `<circle cx="${x.of(point.x)}" cy="${y.of(point.y)}" r="2.5" fill="${colour}"/>`);
    // Beside another line, away from it.
    const isLowest = lines.every((line) => (line.points.at(-1)?.y ?? 0) >= last.y);
    const label = text(
      `x="${x.of(last.x)}" y="${y.of(last.y) + (isLowest ? 16 : -8)}"`,
      name,
      `text-anchor="end" fill="${colour}"`,
    );
    return `<path d="M${path}" fill="none" stroke="${colour}" stroke-width="1.5"/>${dots.join('')}${label}`;
  });
  const heading = text(`x="${LEFT}" y="14"`, title, 'font-weight="bold"') + text(`x="${LEFT}" y="28"`, unit);
  return [heading, ...grid, ...curves].join('');
}

/** From values to places, by whole powers of ten around them. */
function scale(values: readonly number[], from: number, to: number) {
  const low = Math.floor(Math.log10(Math.min(...values)));
  const high = Math.max(low + 1, Math.ceil(Math.log10(Math.max(...values))));
  return {
    of: (value: number) => Math.round((from + ((Math.log10(value) - low) / (high - low)) * (to - from)) * 10) / 10,
    ticks: Array.from({ length: high - low + 1 }, (_, index) => Number((10 ** (low + index)).toPrecision(3))),
  };
}
