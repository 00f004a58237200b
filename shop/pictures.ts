import type { Product } from './catalog.ts';

const WIDTH = 320;
const HEIGHT = 240;

/** Draws a plant for each product from its id. */
export function picture({ id, categories, kind }: Product): string {
  const chance = chances(id);
  const where = categories.flat().join(' ');
  // Any colour but that of leaves.
  const hue = Math.floor(170 + chance() * 260) % 360;
  const ground = `hsl(${(hue + 60) % 360} 28% 91%)`;
  const plant = /Trees|Hedging/.test(where) ? tree : /Ferns|Hosta/.test(where) ? fern : bloom;
  const draw = DRAWN.get(kind) ?? plant;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}"><rect width="${WIDTH}" height="${HEIGHT}" fill="${ground}"/>${draw(chance, hue)}</svg>`;
}

type Draw = (chance: () => number, hue: number) => string;

const GREEN = 'hsl(130 26% 36%)';
const DARK_GREEN = 'hsl(140 28% 26%)';

const bloom: Draw = (chance, hue) => {
  const petals = 6 + Math.floor(chance() * 9);
  const long = 46 + chance() * 22;
  const wide = 12 + chance() * 12;
  const rings = 1 + Math.floor(chance() * 3);
  const x = 150 + chance() * 20;
  const drawn = Array.from({ length: rings }, (_, ring) =>
    Array.from({ length: petals }, (_, index) => {
      const turn = (360 / petals) * (index + ring / 2);
      const reach = long * (1 - ring * 0.27);
      return `<ellipse cx="${x}" cy="${96 - reach / 2}" rx="${wide * (1 - ring * 0.15)}" ry="${reach / 2}" fill="hsl(${hue} ${52 + ring * 8}% ${60 - ring * 9}%)" transform="rotate(${turn} ${x} 96)"/>`;
    }).join(''),
  ).join('');
  const leaf = (side: number) =>
    `<path d="M${x} 190 q${side * 40} -34 ${side * 66} -8 q${side * -26} 26 ${side * -66} 8z" fill="${GREEN}"/>`;
  return `<path d="M${x} 96 V236" stroke="${DARK_GREEN}" stroke-width="6"/>${leaf(1)}${leaf(-1)}${drawn}<circle cx="${x}" cy="96" r="11" fill="hsl(44 70% 52%)"/>`;
};

const fern: Draw = (chance) => {
  const fronds = 5 + Math.floor(chance() * 4);
  return Array.from({ length: fronds }, (_, index) => {
    const lean = -62 + (124 / (fronds - 1)) * index;
    const leaves = Array.from({ length: 9 }, (_, step) => {
      const y = 214 - step * 19;
      const size = 25 - step * 2.3;
      return `<ellipse cx="${160 - size / 1.6}" cy="${y}" rx="${size}" ry="6" fill="${GREEN}"/><ellipse cx="${160 + size / 1.6}" cy="${y}" rx="${size}" ry="6" fill="${GREEN}"/>`;
    }).join('');
    return `<g transform="rotate(${lean} 160 232) scale(1 0.98)" opacity="0.86"><path d="M160 232 V44" stroke="${DARK_GREEN}" stroke-width="4"/>${leaves}</g>`;
  }).join('');
};

const tree: Draw = (chance, hue) => {
  const crowns = 5 + Math.floor(chance() * 5);
  const autumn = chance() > 0.6 ? `hsl(${20 + (hue % 30)} 52% 50%)` : GREEN;
  const leaves = Array.from({ length: crowns }, (_, index) => {
    const x = 105 + (110 / (crowns - 1)) * index;
    return `<circle cx="${x}" cy="${96 - Math.sin((index / (crowns - 1)) * Math.PI) * 40 + chance() * 10}" r="${36 + chance() * 10}" fill="${index % 2 ? autumn : DARK_GREEN}" opacity="0.92"/>`;
  }).join('');
  return `<path d="M150 230 L156 100 L166 100 L172 230z" fill="hsl(25 30% 34%)"/>${leaves}<path d="M60 230 H260" stroke="hsl(30 20% 60%)" stroke-width="4"/>`;
};

const packet: Draw = (chance, hue) => {
  const seeds = Array.from(
    { length: 14 },
    () => `<ellipse cx="${60 + chance() * 200}" cy="${206 + chance() * 24}" rx="5" ry="3" fill="hsl(28 40% 32%)"/>`,
  ).join('');
  return `<rect x="104" y="26" width="112" height="160" rx="4" fill="hsl(40 48% 96%)" stroke="hsl(${hue} 30% 50%)" stroke-width="3"/><rect x="104" y="26" width="112" height="28" fill="hsl(${hue} 36% 52%)"/><g transform="translate(72 40) scale(0.55)">${bloom(chance, hue)}</g>${seeds}`;
};

const tool: Draw = (chance, hue) => {
  const tilt = -24 + chance() * 48;
  return `<g transform="rotate(${tilt} 160 120)"><rect x="150" y="30" width="20" height="104" rx="10" fill="hsl(${25 + (hue % 12)} 44% 46%)"/><path d="M146 134 h28 l-6 74 l-8 14 l-8 -14z" fill="hsl(200 8% 46%)"/></g>`;
};

/** Drawings of products that are no plants, by their kind. */
const DRAWN: ReadonlyMap<string, Draw> = new Map([
  ['tool', tool],
  ['voucher', tool],
  ['seed', packet],
]);

/** Numbers between 0 and 1 that are the same for the same words (mulberry32 over FNV-1a). */
function chances(words: string): () => number {
  let state = 2166136261;
  for (const character of words) state = Math.imul(state ^ character.charCodeAt(0), 16777619);
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}
