const PART = '<main class="product"><p class="cost">€5.00</p><button class="add">Add</button></main>';

/** Scripts of a page that never end, or take all memory: a browser gives these pages up. */
export const ENDLESS: Readonly<Record<string, string>> = {
  '/plants/loop': 'for (;;);',
  '/plants/late-loop': 'setTimeout(() => { for (;;); }, 100)',
  '/plants/alerts': 'for (;;) alert("Still here")',
  '/plants/memory': 'const all = []; for (;;) all.push(new Uint8Array(50_000_000).fill(1))',
};

/** Scripts that try to keep a browser from noticing time, or its page from being read. */
export const ODD: Readonly<Record<string, string>> = {
  '/plants/timers': 'setTimeout = clearTimeout = setInterval = () => 0; Promise.prototype.then = () => 0',
  '/plants/markup': 'Element.prototype.getHTML = () => { for (;;); }',
  '/plants/requests': 'for (let n = 0; n < 3000; n++) fetch("/r" + n).catch(() => 0)',
};

/** A page with a script, on which the parts of a product's page are found all the same. */
export const hostilePage = (script: string): string => `${PART}<script>${script}</script>`;
