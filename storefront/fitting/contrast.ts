/** Least contrast of words with what is behind them (WCAG 2.2, 1.4.3), with room for colours that are not in sRGB. */
const LEAST = 4.6;

/** Black or white, where a colour can hardly be read on what is behind an element; null where it can, or nobody knows. */
export function readableInk(element: Element, ink: string): string | null {
  const ground = luminance(groundOf(element));
  const own = luminance(ink);
  if (ground === null || own === null) return null;
  const contrast = (Math.max(ground, own) + 0.05) / (Math.min(ground, own) + 0.05);
  // Luminance at which white and black have equal contrast.
  return contrast >= LEAST ? null : ground > 0.179 ? '#000' : '#fff';
}

/** Red, green, blue and opacity of a computed colour, from 0 to 1; null of one that is written in another way. */
function partsOf(colour: string): readonly [number, number, number, number] | null {
  const numbers = (colour.match(/[\d.]+(?:e-?\d+)?/g) ?? []).map(Number);
  if (/^rgba?\(/.test(colour)) {
    const [red = 0, green = 0, blue = 0, opacity = 1] = numbers;
    return [red / 255, green / 255, blue / 255, opacity];
  }
  const [red = 0, green = 0, blue = 0, opacity = 1] = numbers;
  return colour.startsWith('color(srgb ') ? [red, green, blue, opacity] : null;
}

/** Relative luminance (WCAG 2.2). */
function luminance(colour: string | null): number | null {
  const parts = colour === null ? null : partsOf(colour);
  if (!parts) return null;
  const [red, green, blue] = parts.map((part) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4));
  return 0.2126 * red! + 0.7152 * green! + 0.0722 * blue!;
}

/** Background of an element's text: the nearest opaque colour, or a gradient's first; null for a picture. */
function groundOf(element: Element): string | null {
  for (let at: Element | null = element; at; at = parentOf(at)) {
    const { backgroundImage, backgroundColor } = getComputedStyle(at);
    const [first = backgroundColor] = /(?:rgba?|color)\([^)]+\)/.exec(backgroundImage) ?? [];
    if (backgroundImage.includes('url(')) return null;
    if ((partsOf(first)?.[3] ?? 1) >= 0.5) return first;
  }
  return matchMedia('(prefers-color-scheme: dark)').matches && isDarkAllowed() ? 'rgb(0, 0, 0)' : 'rgb(255, 255, 255)';
}

const parentOf = (element: Element): Element | null => {
  if (element.parentElement) return element.parentElement;
  const root = element.getRootNode();
  return root instanceof ShadowRoot ? root.host : null;
};

/** Whether the page itself asks for the browser's dark colours. */
const isDarkAllowed = () => getComputedStyle(document.documentElement).colorScheme.includes('dark');
