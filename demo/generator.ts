import { stringify } from 'csv-stringify/sync';
import { Draw } from './draw.ts';

/**
 * The nursery's range beside the forty products that are written by hand: the same at every run, out of a seed. Dates are as
 * of the day on which the demo's files were written (`dates.ts`).
 */
const SEED = 20_260_101;

interface Group {
  readonly categories: string;
  readonly count: number;
  /** Genus before the name: "Dahlia ‘Copper Kettle’". Several are used in turn. */
  readonly genera: readonly string[];
  readonly kind?: keyof typeof OF_KIND;
  readonly seller?: string;
  readonly tags: readonly string[];
  readonly attributes?: readonly string[];
  /** Days after the first of the year, between which its date lies, with whole weeks between one and another. */
  readonly ships?: readonly [from: number, until: number];
  readonly releases?: readonly [from: number, until: number];
  /** Names of sizes, each with its price relative to the first. */
  readonly sizes: readonly [option: string, ...sizes: readonly (readonly [name: string, times: number])[]];
  /** Of the first size, in whole euros. */
  readonly price: readonly [low: number, high: number];
  readonly isUntracked?: true;
}

const TUBERS = ['Pack', ['1 tuber', 1], ['3 tubers', 2.7], ['5 tubers', 4.2]] as const;
const BULBS = ['Pack', ['10 bulbs', 1], ['25 bulbs', 2.2], ['100 bulbs', 7.6]] as const;
const POTS = ['Size', ['9 cm pot', 1], ['2 litre pot', 2.1], ['5 litre pot', 3.9]] as const;
const PACKETS = ['Packet', ['packet', 1], ['large packet', 2.4]] as const;
const SPRING = [85, 125] as const;
const AUTUMN = [255, 290] as const;

const GROUPS: readonly Group[] = [
  tubers('Dahlias > Dinnerplate dahlias', 10, ['Dahlia']),
  tubers('Dahlias > Pompon dahlias', 10, ['Dahlia']),
  tubers('Dahlias > Cactus dahlias', 8, ['Dahlia']),
  tubers('Begonias', 5, ['Begonia']),
  tubers('Cannas', 6, ['Canna']),
  { ...tubers('Ranunculus', 6, ['Ranunculus']), sizes: ['Pack', ['10 corms', 1], ['25 corms', 2.2]] },
  bulbs('Tulips > Triumph tulips', 10, ['Tulip']),
  bulbs('Tulips > Parrot tulips', 8, ['Tulip']),
  bulbs('Tulips > Species tulips', 8, ['Tulip']),
  bulbs('Narcissi', 8, ['Narcissus']),
  bulbs('Alliums', 7, ['Allium']),
  bulbs('Crocuses', 6, ['Crocus']),
  {
    ...bulbs('Snowdrops', 3, ['Snowdrop']),
    tags: ['in the green'],
    releases: [20, 40],
    sizes: ['Pack', ['25 in the green', 1], ['100 in the green', 3.5]],
  },
  pots('Sun', 18, ['Geranium', 'Salvia', 'Aster', 'Phlox', 'Iris', 'Penstemon'], ['wildlife', 'cut flower', 'scented']),
  pots('Shade', 12, ['Astrantia', 'Hosta', 'Brunnera', 'Epimedium', 'Pulmonaria'], ['wildlife']),
  pots('Grasses', 8, ['Molinia', 'Stipa', 'Sesleria'], ['prairie']),
  { ...pots('Woodland > Ferns', 8, ['Dryopteris', 'Polypodium', 'Athyrium'], ['native']), seller: 'Tidewater Ferns' },
  {
    categories: 'Plants > Perennials > Woodland > Hepaticas|Plants > Rare plants',
    count: 6,
    genera: ['Hepatica', 'Trillium', 'Galanthus'],
    tags: ['rare'],
    sizes: ['Size', ['division', 1]],
    price: [24, 70],
  },
  {
    categories: 'Plants > Trees > Mature trees',
    count: 8,
    genera: ['Birch', 'Rowan', 'Medlar', 'Hawthorn'],
    tags: ['too-big-to-post'],
    attributes: ['height=3 m', 'height=4 m', 'height=5 m'],
    sizes: ['Root', ['rootball', 1], ['container', 1.2]],
    price: [240, 560],
  },
  {
    categories: 'Plants > Trees > Fruit trees',
    count: 6,
    genera: ['Apple', 'Pear', 'Plum'],
    tags: ['bare root'],
    sizes: ['Form', ['maiden', 1], ['bush', 1.6], ['espalier', 3]],
    price: [18, 29],
  },
  hedging('Deciduous hedging', 3, ['Field maple', 'Hazel', 'Dogwood'], ['bare root', 'wildlife']),
  hedging('Evergreen hedging', 3, ['Holly', 'Box', 'Laurel'], []),
  {
    categories: 'Plants > Bedding > Plugs',
    count: 8,
    genera: ['Cosmos', 'Snapdragon', 'Lobelia', 'Stock'],
    seller: 'The Long Bed',
    tags: ['plug'],
    sizes: ['Tray', ['tray of 12', 1], ['tray of 20', 1.5], ['tray of 40', 2.8]],
    price: [5, 8],
  },
  {
    categories: 'Plants > Seedlings',
    count: 4,
    genera: ['Surplus leek', 'Surplus chard', 'Surplus lettuce', 'Surplus squash'],
    seller: 'Marrow & Daughter',
    tags: ['surplus'],
    sizes: ['Pot', ['pot of 6', 1]],
    price: [2, 3],
  },
  seeds('Society seed list > Ferns', 2, ['Fern spores'], ['society']),
  seeds('Society seed list > Primulas', 4, ['Primula seed'], ['society']),
  seeds('Society seed list > Poppies', 3, ['Poppy seed'], ['society']),
  seeds('Society seed list > Hellebores', 3, ['Hellebore seed'], ['society']),
  { ...seeds('Vegetable seed', 8, ['Bean', 'Pea', 'Kale', 'Beetroot'], []), seller: 'Marrow & Daughter' },
  seeds('Flower seed', 8, ['Sweet pea', 'Cornflower', 'Nigella', 'Poppy'], ['cut flower', 'wildlife']),
  tools('Hand tools', 4, ['Trowel', 'Hand rake', 'Bulb planter', 'Widger'], [14, 32]),
  tools('Sundries', 3, ['Label', 'Raffia', 'Cloche'], [3, 9]),
];

function tubers(below: string, count: number, genera: readonly string[]): Group {
  const categories = `Plants > Bulbs and tubers > Tubers > ${below}`;
  return { categories, count, genera, tags: ['ships-spring'], ships: SPRING, sizes: TUBERS, price: [4, 9] };
}
function bulbs(below: string, count: number, genera: readonly string[]): Group {
  const categories = `Plants > Bulbs and tubers > Bulbs > ${below}`;
  return { categories, count, genera, tags: ['ships-autumn'], ships: AUTUMN, sizes: BULBS, price: [5, 9] };
}
function pots(below: string, count: number, genera: readonly string[], some: readonly string[]): Group {
  return { categories: `Plants > Perennials > ${below}`, count, genera, tags: some, sizes: POTS, price: [5, 9] };
}
function hedging(below: string, count: number, genera: readonly string[], tags: readonly string[]): Group {
  const sizes = ['Height', ['40–60 cm', 1], ['60–80 cm', 1.5], ['80–100 cm', 2.1]] as const;
  return { categories: `Plants > Hedging > ${below}`, count, genera, tags, sizes, price: [1, 4], isUntracked: true };
}
function seeds(below: string, count: number, genera: readonly string[], tags: readonly string[]): Group {
  return { categories: `Seeds > ${below}`, count, genera, tags, kind: 'seed', sizes: PACKETS, price: [2, 5] };
}
function tools(below: string, count: number, genera: readonly string[], price: Group['price']): Group {
  const sizes = ['Handle', ['ash', 1], ['oak', 1.15]] as const;
  return { categories: `Tools > ${below}`, count, genera, tags: [], kind: 'tool', sizes, price };
}

const FIRST_WORDS =
  'Amber Brass Brick Canal Chalk Cinder Clay Copper Corn Dairy Dew Drift Dusk Ember Fallow Flint Frost Garnet Ginger Harbour Hazel Honey Ink Ivory Lamp Linen Meadow Moss Oat Olive Paper Pearl Pewter Plum Quarry Rain Rust Saddle Salt Silver Slate Smoke Straw Sugar Thistle Tin Velvet Wheat Winter Wren'.split(
    ' ',
  );
const SECOND_WORDS =
  'Anchor Apron Bell Bridge Button Candle Carriage Choir Clock Comet Corner Cottage Dancer Diary Door Errand Ferry Gate Hatch Hour Journey Kite Ladder Lane Lantern Letter Market Mirror Morning Orchard Parade Pilot Pocket Porch Quilt Ribbon Sailor Scarf Shutter Signal Sixpence Song Step Stile Thimble Tower Valley Waltz Whistle Window'.split(
    ' ',
  );

const slug = (words: string) =>
  words
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '');

const onDay = (day: number) => new Date(Date.UTC(2026, 0, 1 + day)).toISOString().slice(0, 10);

/** @param taken ids that products have already; theirs are left alone */
export function generatedGoods(taken: ReadonlySet<string>): string {
  const draw = new Draw(SEED);
  const used = new Set(taken);
  const rows = GROUPS.flatMap((group) =>
    Array.from({ length: group.count }, (_, index) => rowsOf(group, index, nameNotIn(used, draw), draw)).flat(),
  );
  return stringify(rows, { header: false });
}

/** Two words that no product is called by yet. */
function nameNotIn(used: Set<string>, draw: Draw): string {
  for (;;) {
    const name = `${draw.oneOf(FIRST_WORDS)} ${draw.oneOf(SECOND_WORDS)}`;
    if (used.has(slug(name))) continue;
    used.add(slug(name));
    return name;
  }
}

const OF_KIND = {
  plant: { folder: 'plants', brand: 'Quillfern', grams: 900, isNamed: true, isHardy: true, isBound: false },
  seed: { folder: 'plants', brand: 'Quillfern', grams: 10, isNamed: true, isHardy: false, isBound: true },
  tool: { folder: 'tools', brand: 'Thornback Forge', grams: 650, isNamed: false, isHardy: false, isBound: false },
} as const;

function rowsOf(group: Group, index: number, name: string, draw: Draw): string[][] {
  const { kind = 'plant', seller = '', categories, genera, ships, releases } = group;
  const genus = genera[index % genera.length]!;
  const id = slug(name);
  const { folder, brand, grams, isNamed: hasName, isHardy, isBound } = OF_KIND[kind];
  const isNamed = hasName && group.isUntracked === undefined;
  const title = isNamed ? `${genus} ‘${name}’` : `${genus}, ${name.toLowerCase()}`;
  const path = `/${folder}/${id}`;
  // A perennial has some of the tags of its bed; what hangs on a rule is on all of a group.
  const isOfRule = ships !== undefined || group.tags.length <= 1 || isBound || group.isUntracked === true;
  const tags = group.tags.filter(() => isOfRule || draw.happens(0.45));
  const dates = [
    ...(releases ? [`releases=${onDay(draw.inWeek(...releases))}`] : []),
    ...(ships ? [`ships=${onDay(draw.inWeek(...ships))}`] : []),
  ];
  const attributes = group.attributes
    ? [draw.oneOf(group.attributes)]
    : isHardy
      ? [`hardiness=H${draw.between(3, 7)}`]
      : [];
  const [option, ...sizes] = group.sizes;
  const first = draw.between(group.price[0] * 10, group.price[1] * 10) / 10;
  // Of some plants one size is out while the next is in.
  const out = draw.happens(0.16) ? draw.between(0, sizes.length - 1) : -1;
  // Stock is tracked if rules depend on it.
  const isTracked = group.isUntracked === undefined && (isOfRule || !draw.happens(0.1));
  return sizes.map(([size, times], place) => {
    const price = Math.round(first * times * 10) / 10;
    const stock = place === out ? 0 : Math.max(0, draw.between(-2, 90));
    return [
      `${id}-${slug(size)}`,
      id,
      path,
      title,
      brand,
      kind,
      seller,
      String(grams),
      categories,
      tags.join('|'),
      attributes.join('|'),
      dates.join('|'),
      `QF-${slug(`${id} ${size}`).toUpperCase()}`,
      `${option}=${size}`,
      price.toFixed(2),
      draw.happens(0.05) ? (price * 1.2).toFixed(2) : '',
      'EUR',
      String(isTracked),
      isTracked ? String(stock) : '',
      'false',
      `/pictures/${id}.svg`,
    ];
  });
}

const GIVEN =
  'Abel Alma Basil Beatrix Caspar Clara Corin Delia Edwin Elsie Esme Felix Flora Gideon Hattie Hester Ida Ivo Jasper Juno Lena Linus Mabel Marius Nell Nora Orla Oscar Petra Piers Quentin Ralf Rhoda Rufus Sable Silas Tess Theo Una Viola Walt Willa Xanthe Yann Zelda Zeno Anouk Benoît'.split(
    ' ',
  );
const FAMILY =
  'Alder Barrow Beck Birch Bramble Carr Clay Coombe Dell Fallow Fenwick Garth Glebe Hale Heath Hurst Kell Lathe Marl Nook Oakley Peel Pike Quarrie Rook Rye Sedge Shaw Stone Thorn Vane Wick Yarrow'.split(
    ' ',
  );

/** Customers beside the twelve that are written by hand, `c-13` to `c-60`: some whose membership ends within weeks. */
export function generatedPeople(): string {
  const draw = new Draw(SEED + 1);
  const rows = GIVEN.map((given, index) => {
    const family = draw.oneOf(FAMILY);
    const address = `${given}.${family}`.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
    return [`c-${index + 13}`, `${address}@quillfern.example`, `${given} ${family}`, rolesOf(index, draw)];
  });
  return stringify(rows, { header: false });
}

/** Members for a year, members whose year ends soon, landscapers, staff, and those with no role. */
function rolesOf(index: number, draw: Draw): string {
  switch (index % 8) {
    case 0:
    case 4: {
      const from = draw.between(-300, -60);
      return `member@${onDay(from)}/${onDay(from + 365)}`;
    }
    case 2:
      return `member@${onDay(-350)}/${onDay(draw.between(5, 25))}`;
    case 5:
      return 'trade';
    case 7:
      return index === 47 ? 'staff' : '';
    default:
      return '';
  }
}
