/** Shop pages whose buttons and prices look in ways of their own, for stand-ins to fit in. */
export interface ButtonPage {
  readonly name: string;
  readonly css: string;
  /** `[data-buy]` is the control, `[data-price]` the price, `[data-was]` what says more about it. */
  readonly html: string;
  readonly root?: string;
  /** A control that shows no words of its own. */
  readonly isIcon?: boolean;
  /** A look that may not be taken as it is: too faint, or that of what cannot be pressed. */
  readonly isFaint?: boolean;
}

const CART =
  '<svg width="20" height="20" viewBox="0 0 20 20"><path d="M2 3h3l2 9h9l2-7H6" fill="none" stroke="currentColor" stroke-width="2"/></svg>';
const PRICE = '<p class="money" data-price>€14.50</p>';

export const BUTTON_PAGES: readonly ButtonPage[] = [
  {
    name: 'a button styled by its tag',
    css: `main button{background:#204a3a;color:#fff;border:0;border-radius:24px;padding:14px 32px;font:600 18px/1.2 Georgia,serif;text-transform:uppercase;letter-spacing:1px}
      main a{color:#0645ad;text-decoration:underline} .money{font-size:22px}`,
    html: `${PRICE}<form><button data-buy>Add</button></form>`,
  },
  {
    name: 'a button styled by its id, that changes slowly',
    css: `#add{background:#7b1e3b;color:#fdf6e3;border:2px solid #4f1024;border-radius:4px;padding:12px 20px;font-size:17px;transition:all .4s} #add:hover{background:#4f1024} .money{color:#7b1e3b}`,
    html: `${PRICE}<button id="add" data-buy>Add to cart</button>`,
  },
  {
    name: 'a link styled as a button',
    css: `a{color:#00c;text-decoration:underline} .btn{display:block;width:220px;background:#1d3557;color:#fff;text-align:center;text-decoration:none;padding:16px;border-radius:8px;font-weight:bold} a:hover{color:#c00}`,
    html: `${PRICE}<a class="btn" href="/cart/add?id=1" data-buy>Add to cart</a>`,
  },
  {
    name: 'an icon in a small round button',
    isIcon: true,
    css: `.round{width:36px;height:36px;padding:0;border:0;border-radius:50%;background:#e07a5f;color:#1b1b1b;overflow:hidden;display:inline-flex;align-items:center;justify-content:center}`,
    html: `${PRICE}<button class="round" aria-label="Add to cart" title="Add to cart" data-buy>${CART}</button>`,
  },
  {
    name: 'an icon with words for those who listen alone',
    isIcon: true,
    css: `.ib{width:44px;height:44px;padding:0;border:1px solid #333;background:#fff;color:#111} .sr{position:absolute;width:1px;height:1px;margin:-1px;overflow:hidden;clip:rect(0,0,0,0);white-space:nowrap}`,
    html: `${PRICE}<button class="ib" data-buy>${CART}<span class="sr">Add to cart</span></button>`,
  },
  {
    name: 'a picture for a background, its words far away',
    isIcon: true,
    css: `.pic{width:34px;height:34px;border:0;text-indent:-9999px;overflow:hidden;background:#ffd166 url("data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='20' height='20'%3E%3Ccircle cx='10' cy='10' r='8'/%3E%3C/svg%3E") center no-repeat}`,
    html: `${PRICE}<button class="pic" data-buy>Add to cart</button>`,
  },
  {
    name: 'a picture that sends',
    isIcon: true,
    css: `form{margin:0} input{border:0}`,
    html: `${PRICE}<form><input type="image" alt="Add to cart" data-buy src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='40' height='24'%3E%3Crect width='40' height='24'/%3E%3C/svg%3E"></form>`,
  },
  {
    name: 'a button without any style',
    css: '',
    html: `${PRICE}<form><input type="submit" value="Buy" data-buy></form>`,
  },
  {
    name: 'a button that is off, grey and faint',
    isFaint: true,
    css: `.buy{background:#264653;color:#fff;border:0;padding:14px 24px;border-radius:6px} .buy:disabled{background:#ccc;color:#eee;opacity:.5;cursor:not-allowed} .sold-out{pointer-events:none;opacity:.4}`,
    html: `${PRICE}<button class="buy sold-out" disabled data-buy>Sold out</button>`,
  },
  {
    name: 'ink that can hardly be read',
    isFaint: true,
    css: `body{background:#fff} .buy{background:none;border:0;color:#bbb;padding:12px;font-size:15px}`,
    html: `${PRICE}<button class="buy" data-buy>Add to cart</button>`,
  },
  {
    name: 'a wide button in a grid, of two colours',
    css: `form{display:grid;gap:12px;max-width:420px} form>button{width:100%;height:56px;border:0;border-radius:28px;background:linear-gradient(90deg,#0b3d2e,#145a32);color:#fff;font-size:18px}`,
    html: `${PRICE}<form><label>How many <input type="number" value="1"></label><button data-buy>Add to basket</button></form>`,
  },
  {
    name: 'a page from right to left',
    root: 'lang="ar" dir="rtl"',
    css: `[data-buy]{background:#3d348b;color:#fff;border:0;padding-block:12px;padding-inline:48px 16px;border-radius:10px;font-size:18px} h2{color:#3d348b}`,
    html: `<h2 data-price>١٤٫٥٠ €</h2><button data-buy>أضف إلى السلة</button>`,
  },
  {
    name: 'a dark page with outlined buttons',
    css: `body{background:#121212;color:#ddd} button{background:transparent;color:#f1f1f1;border:1px solid #f1f1f1;padding:10px 18px;font-size:16px} a{color:#336}`,
    html: `${PRICE}<button data-buy>Add</button>`,
  },
  {
    name: 'a price within its line',
    css: `b{font-size:20px;color:#8b0000} .buy{background:#222;color:#fff;border:0;padding:12px 18px}`,
    html: `<p class="line">Only <b data-price>€14.50</b> <s data-was>€18.00</s> a pack</p><button class="buy" data-buy>Add</button>`,
  },
  {
    name: 'a price that is a line by style alone',
    css: `.amount{display:block;font:bold 28px/1.4 Georgia,serif;color:#204a3a;margin:12px 0} .buy{background:#222;color:#fff;border:0;padding:12px 18px}`,
    html: `<span class="amount" data-price>€14.50</span><span>In stock</span><p><button class="buy" data-buy>Add</button></p>`,
  },
];

/** The page, with the line in its head or without. */
export const pageOf = ({ css, html, root = 'lang="en"' }: ButtonPage, line: string): string => `<!doctype html>
<html ${root}><head><meta charset="utf-8"><title>Paper Lantern</title>${line}
<style>body{font:16px/1.5 sans-serif;margin:24px} svg{vertical-align:middle} ${css}</style></head>
<body><header><a href="/">Home</a></header><main data-area><h1>Paper Lantern</h1>${html}<p class="after">Long after.</p></main></body></html>`;
