/** A page in the simulators' frame; `body` is HTML. */
export const page = (title: string, body: string): string =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
  <title>${escaped(title)} · Simulators</title><link rel="stylesheet" href="/simulators.css"></head>
  <body><header>Simulators: nothing goes further than here</header><main><h1>${escaped(title)}</h1>${body}</main></body></html>`;

export const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (character) => `&#${character.codePointAt(0)};`);

export const CSS = `
:root { color-scheme: light dark; }
body { margin: 0; font: 15px/1.5 'DejaVu Sans', sans-serif; color: CanvasText; background: Canvas; }
header { padding: 10px 24px; color: Canvas; background: CanvasText; }
main { max-width: 62rem; margin: 24px auto; padding: 0 24px; }
h1 { font-size: 22px; font-weight: 600; }
table { width: 100%; border-collapse: collapse; margin: 16px 0; }
th, td { text-align: left; padding: 7px 12px 7px 0; border-top: 1px solid color-mix(in srgb, CanvasText 18%, Canvas); font-weight: 400; }
.time { font-family: 'DejaVu Sans Mono', monospace; white-space: nowrap; }
input { font: inherit; padding: 5px 8px; min-width: 18rem; }
button { font: inherit; padding: 5px 14px; }
dl { display: grid; grid-template-columns: 4rem 1fr; margin: 0 0 18px; }
dd { margin: 0; }
article { border: 1px solid color-mix(in srgb, CanvasText 25%, Canvas); border-radius: 6px; background: #FFF; color: #23282B; }
pre { white-space: pre-wrap; overflow-wrap: anywhere; }
details { margin: 16px 0; }
`;
