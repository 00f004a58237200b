/** Styles that are written into a saved chart, since a file has no style sheet. */
const DRAWN = ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'font-size', 'text-anchor'] as const;
const SVG = 'http://www.w3.org/2000/svg';
const LEFT = 150;
const TOP = 40;
/** The last day’s name is wider than the chart. */
const RIGHT = 16;
/** Dots a pixel, so that a picture is sharp in print. */
const SHARPNESS = 2;

export type ChartFile = 'svg' | 'png';
type Write = (text: string, width: number, height: number) => Blob | Promise<Blob>;
const WRITE: Readonly<Record<ChartFile, Write>> = {
  svg: (text) => new Blob([text], { type: 'image/svg+xml' }),
  png: pictureOf,
};

/**
 * Saves the small charts in an element as one picture, one below the other, with their names and what they come to.
 * @param name its heading and file name
 */
export async function saveChart(holder: HTMLElement, name: string, kind: ChartFile): Promise<void> {
  const { text, width, height } = drawing(holder, name);
  save(await WRITE[kind](text, width, height), `${name}.${kind}`);
}

function drawing(holder: HTMLElement, name: string): { text: string; width: number; height: number } {
  const { color, backgroundColor } = getComputedStyle(document.body);
  const figures = [...holder.querySelectorAll('figure')].flatMap((figure) => {
    const svg = figure.querySelector('svg');
    return svg ? [{ figure, svg, box: svg.getBoundingClientRect() }] : [];
  });
  const width = LEFT + Math.max(...figures.map(({ box }) => box.width), 0) + RIGHT;
  const whole = document.createElementNS(SVG, 'svg');
  whole.setAttribute('font-family', 'sans-serif');
  const words = (said: string, x: number, y: number, size: number, fill: string) => {
    const text = document.createElementNS(SVG, 'text');
    for (const [key, value] of Object.entries({ x, y, 'font-size': size, fill })) text.setAttribute(key, String(value));
    text.textContent = said;
    whole.append(text);
  };
  const sheet = document.createElementNS(SVG, 'rect');
  whole.append(sheet);
  words(name, 14, 26, 17, color);
  let y = TOP;
  for (const { figure, svg, box } of figures) {
    const caption = figure.querySelector('figcaption b');
    words(figure.dataset.name ?? '', 14, y + 24, 13, caption ? getComputedStyle(caption).color : color);
    words(figure.dataset.total ?? '', 14, y + 42, 13, color);
    const part = coloured(svg);
    part.setAttribute('x', String(LEFT));
    part.setAttribute('y', String(y));
    whole.append(part);
    y += box.height;
  }
  const height = y + 12;
  for (const [element, size] of [
    [whole, { width, height, viewBox: `0 0 ${width} ${height}` }],
    [sheet, { width, height, fill: backgroundColor }],
  ] as const)
    for (const [key, value] of Object.entries(size)) element.setAttribute(key, String(value));
  return { text: new XMLSerializer().serializeToString(whole), width, height };
}

/** A copy, each part with the colours that it has on the screen. */
function coloured(svg: SVGSVGElement): SVGSVGElement {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const parts = [...copy.querySelectorAll<SVGElement>('*')];
  for (const [place, shown] of [...svg.querySelectorAll('*')].entries()) {
    const style = getComputedStyle(shown);
    for (const property of DRAWN) parts[place]?.setAttribute(property, style.getPropertyValue(property));
    parts[place]?.removeAttribute('class');
  }
  return copy;
}

async function pictureOf(svg: string, width: number, height: number): Promise<Blob> {
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await picture.decode();
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [width * SHARPNESS, height * SHARPNESS];
  const context = canvas.getContext('2d');
  context?.scale(SHARPNESS, SHARPNESS);
  context?.drawImage(picture, 0, 0, width, height);
  return new Promise((resolve, reject) => {
    canvas.toBlob((blob) => {
      if (blob) resolve(blob);
      else reject(new Error('the picture could not be made'));
    }, 'image/png');
  });
}

function save(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name.replace(/[^\p{L}\p{N}.]+/gu, '-').toLowerCase();
  link.click();
  URL.revokeObjectURL(link.href);
}
