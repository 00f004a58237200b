import { TONGUES } from './tongues.ts';

/** Shop pages made from a number: how they are written, what they say and what they are for differ independently of each other. */

/** Mulberry32: numbers in [0, 1) from a seed. */
function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const GOODS = [
  { id: 'saffron-hill', title: 'Saffron Hill', price: 600 },
  { id: 'night-post', title: 'Night Post', price: 450 },
  { id: 'inkwell', title: 'Inkwell', price: 4800 },
] as const;
const OWN = { id: 'paper-lantern', title: 'Paper Lantern', price: 550, before: 700 } as const;

/** Names in a page's markup, by its author's style. */
type Naming = (what: string, more?: string) => string;
const NAMINGS: readonly ((random: () => number) => Naming)[] = [
  () =>
    (what, more = '') =>
      ` class="shop-${what}${more && ` shop-${what}--${more}`}"`,
  (random) => {
    const made = new Map<string, string>();
    const hash = (what: string) => {
      if (!made.has(what))
        made.set(what, `_${Math.floor(random() * 36 ** 5).toString(36)}${Math.floor(random() * 10)}`);
      return made.get(what) ?? '';
    };
    return (what, more = '') => ` class="${hash(what)}${more && ` ${hash(what + more)}`}"`;
  },
  () => (what) => ` data-part="${what}"`,
  () =>
    (what, more = '') =>
      ` class="${{ price: 'text-xl', card: 'flex flex-col', buy: 'bg-black text-white px-6 py-3', product: 'grid gap-4' }[what] ?? 'p-2'} ${more && 'mt-2'}"`,
  () => () => '',
];

/** A product's page and a listing; the attribute `truth` says what is what. */
export function madeTheme(seed: number): { readonly name: string; readonly pages: readonly [string, string] } {
  const random = randomFrom(seed * 7919 + 13);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const chance = (part: number) => random() < part;
  const tongue = pick(TONGUES);
  const named = pick(NAMINGS)(random);
  const format = new Intl.NumberFormat(tongue.lang, {
    style: 'currency',
    currency: tongue.currency,
    currencyDisplay: pick(['symbol', 'narrowSymbol', 'code']),
  });
  const digits = format.resolvedOptions().maximumFractionDigits ?? 2;
  // Currencies without hundredths have larger whole prices.
  const amount = (cents: number) => format.format(digits === 0 ? cents * 4 : cents / 100);
  const split = chance(0.25);
  const money = (cents: number) => {
    if (!split) return amount(cents);
    const parts = format.formatToParts(digits === 0 ? cents * 4 : cents / 100);
    return parts
      .map(({ type, value }) =>
        type === 'fraction' ? `<sup>${value}</sup>` : type === 'integer' ? `<span>${value}</span>` : value,
      )
      .join('');
  };
  const priceTag = pick(['span', 'div', 'strong', 'p', 'b', 'data']);
  const price = (cents: number, before?: number) => {
    const struck = pick(['s', 'del']);
    const was = before === undefined ? '' : ` <${struck}${named('was')} truth="beside">${amount(before)}</${struck}>`;
    return `<${priceTag}${named('price')} truth="price">${money(cents)}</${priceTag}>${was}`;
  };

  const icon = '<svg viewBox="0 0 9 9" width="18" height="18"><path d="M0 0h9v9z"/></svg>';
  const isIconOnly = chance(0.2);
  const buyKind = pick(['submit', 'submit', 'button', 'input', 'div', 'link'] as const);
  const buy = (variant: string, isCard: boolean) => {
    const words = tongue.add;
    const truth = 'truth="control"';
    const css = named('buy', isCard ? 'small' : '');
    const label = isIconOnly ? ` aria-label="${words}"` : '';
    const content = isIconOnly ? icon : words;
    if (buyKind === 'input') return `<input type="submit" value="${words}"${css} ${truth}>`;
    if (buyKind === 'div')
      return `<div role="button" tabindex="0"${css}${label} data-item="${variant}" ${truth}>${content}</div>`;
    if (buyKind === 'link')
      return `<a${css}${label} href="${tongue.cartPath}/${pick(['add', 'plus', 'x'])}?v=${variant}" ${truth}>${content}</a>`;
    return `<button type="${buyKind}"${css}${label}${buyKind === 'button' ? ` data-item="${variant}"` : ''} ${truth}>${content}</button>`;
  };
  const hasForm = buyKind === 'submit' || buyKind === 'input' || chance(0.3);
  const field = pick(['id', 'sku', 'item', 'artikel', 'v']);
  const form = (inner: string) =>
    hasForm
      ? `<form method="post" action="${tongue.cartPath}${pick(['', '/add', '/lines'])}"${named('form')}>${inner}</form>`
      : `<div${named('form')}>${inner}</div>`;

  const [one, three] = [`${OWN.id}-1-tuber`, `${OWN.id}-3-tubers`];
  const optionKind = pick(
    hasForm
      ? (['select', 'radio', 'hidden', 'buttons', 'none'] as const)
      : (['select', 'radio', 'buttons', 'none'] as const),
  );
  const options = {
    select: `<select name="${field}"${named('size')} truth="variant"><option value="${one}">${tongue.size[0]}</option><option value="${three}">${tongue.size[1]} ${amount(1450)}</option></select>`,
    radio: [one, three]
      .map(
        (id, index) =>
          `<label><input type="radio" name="${field}" value="${id}"${index ? '' : ' checked'} truth="variant">${tongue.size[index]}</label>`,
      )
      .join(' '),
    hidden: `<input type="hidden" name="${field}" value="${one}" truth="variant">`,
    buttons: [one, three]
      .map(
        (id, index) =>
          `<button type="button" aria-pressed="${!index}"${named('size')} data-value="${id}" truth="variant">${tongue.size[index]}</button>`,
      )
      .join(' '),
    none: '',
  }[optionKind];
  const quantity = chance(0.6)
    ? pick([
        `<label>${tongue.count} <input type="number" name="n" value="1" truth="quantity"></label>`,
        `<button type="button" aria-label="-">−</button><input name="qty" value="1" size="2" inputmode="numeric" truth="quantity"><button type="button" aria-label="+">+</button>`,
        `<label>${tongue.count} <select name="qty" truth="quantity"><option>1</option><option>2</option><option>3</option></select></label>`,
      ])
    : '';

  const cardTag = pick(['div', 'li', 'article', 'a'] as const);
  const cardsBuy = cardTag !== 'a' && chance(0.6);
  const cardHasPicture = chance(0.7);
  const card = ({ id, title, price: cents }: { id: string; title: string; price: number }) => {
    const picture = cardHasPicture ? `<img src="/pictures/${id}.svg" alt="" width="80" height="80">` : '';
    const inner =
      cardTag === 'a'
        ? `${picture}<span${named('name')}>${title}</span> ${price(cents)}`
        : `<a href="/plants/${id}"${named('name')}>${picture}${title}</a> ${price(cents)}${
            cardsBuy
              ? form(
                  `${hasForm ? `<input type="hidden" name="${field}" value="${id}-1-tuber">` : ''}${buy(`${id}-1-tuber`, true)}`,
                )
              : ''
          }`;
    return cardTag === 'a'
      ? `<a href="/plants/${id}"${named('card')} truth="card">${inner}</a>`
      : `<${cardTag}${named('card')} truth="card">${inner}</${cardTag}>`;
  };
  const list = (goods: readonly { id: string; title: string; price: number }[]) =>
    cardTag === 'li'
      ? `<ul${named('list')}>${goods.map(card).join('')}</ul>`
      : `<div${named('list')}>${goods.map(card).join('')}</div>`;

  const header = `<header${named('header')}><a href="/">Quillfern</a>${chance(0.5) ? `<form action="/search" method="get"><input name="q"><button>⌕</button></form>` : ''}<a href="${tongue.cartPath}" truth="cart"${named('bag')}>${tongue.cart}${chance(0.3) ? ` ${amount(0)}` : ''}</a></header>`;
  const banner = chance(0.6) ? `<p${named('banner')}>${tongue.free} ${amount(6000)}</p>` : '';
  const footer = chance(0.6)
    ? `<footer><form method="post" action="/letter"><input type="email" name="email"><button${named('buy')}>${tongue.letter}</button></form></footer>`
    : '<footer>© Quillfern</footer>';
  const wish = chance(0.5) ? `<button type="button"${named('wish')}>${pick([tongue.wish, '♡'])}</button>` : '';
  const instalment = chance(0.3) ? `<p${named('parts')} truth="beside">3 × ${amount(184)}</p>` : '';
  const data = chance(0.4)
    ? `<script type="application/ld+json">${JSON.stringify({ '@context': 'https://schema.org', '@type': 'Product', name: OWN.title, offers: { '@type': 'Offer', price: digits === 0 ? OWN.price * 4 : OWN.price / 100, priceCurrency: tongue.currency } })}</script>`
    : '';
  const heading = pick(['h1', 'h1', 'h2']);
  const outer = pick(['section', 'div', 'article']);
  const product = `<${outer}${named('product')}><img src="/pictures/${OWN.id}.svg" alt="" width="240" height="200"><div${named('info')}><${heading}${named('title')}>${pick(['', 'Dahlia '])}${OWN.title}</${heading}>${price(OWN.price, chance(0.35) ? OWN.before : undefined)}${instalment}${form(options + quantity + buy(one, false))}${wish}<p${named('text')}>${'Folded like paper, it flowers until the frost. '.repeat(3)}</p></div></${outer}>`;
  const sticky = chance(0.15)
    ? `<div${named('sticky')} style="position:fixed;bottom:0;left:0;right:0;background:#fff"><span>${OWN.title}</span> ${buyKind === 'submit' || buyKind === 'input' ? `<button type="button"${named('buy')} truth="control">${tongue.add}</button>` : buy(one, false)}</div>`
    : '';
  const css =
    '<style>body{font:16px sans-serif}button,[role=button]{min-width:30px}header{display:flex;gap:20px}</style>';
  const page = (title: string, body: string, head = '') =>
    `<!doctype html><html lang="${tongue.lang}"${tongue.dir ? ` dir="${tongue.dir}"` : ''}><head><meta charset="utf-8"><title>${title}</title><!--embed-->${css}${head}</head><body>${header}${banner}<main>${body}</main>${footer}</body></html>`;
  return {
    name: `made ${seed} (${tongue.lang}, ${buyKind}, ${optionKind}, ${cardTag})`,
    pages: [
      page(
        OWN.title,
        `${product}<section${named('others')}><h2>${tongue.more}</h2>${list(GOODS.slice(0, 2))}</section>`,
        data,
      ).replace('</body>', `${sticky}</body>`),
      page(tongue.more, `<h1>${tongue.more}</h1>${list([{ ...OWN }, ...GOODS])}`),
    ],
  };
}
