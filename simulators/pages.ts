import express, { type Express } from 'express';
import type { Kept, Letter } from './kept.ts';

/** Pages to read what arrived, and the same as JSON. */
export function createPages(kept: Kept): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.use((_request, response, next) => {
    // What letters say is shown as they were sent, and can do nothing.
    response.set(
      'Content-Security-Policy',
      "default-src 'none'; style-src 'self'; img-src https: data:; form-action 'self'",
    );
    next();
  });
  app.get('/health', (_request, response) => void response.json({ status: 'alive' }));
  app.get('/simulators.css', (_request, response) => void response.type('css').send(CSS));
  const wordsIn = (find: unknown) => (typeof find === 'string' ? find : '');
  app.get('/letters.json', (request, response) => {
    response.json(kept.find(wordsIn(request.query.find)));
  });
  app.get('/', (request, response) => {
    const find = wordsIn(request.query.find);
    const letters = kept.find(find);
    const rows = letters.map(
      ({ id, at, to, subject }) =>
        `<tr><td class="time">${at.toISOString().slice(11, 19)}</td><td>${escaped(to)}</td><td><a href="/letters/${id}">${escaped(subject)}</a></td></tr>`,
    );
    const none = find === '' ? 'Nothing has arrived yet.' : 'Nothing that arrived says that.';
    response.send(
      page(
        'What arrived',
        `<form><label>Find by address or words <input name="find" value="${escaped(find)}"></label> <button>Find</button></form>
        ${rows.length === 0 ? `<p>${none}</p>` : `<table><thead><tr><th>Time (UTC)</th><th>To</th><th>Subject</th></tr></thead><tbody>${rows.join('')}</tbody></table>`}
        <form method="post" action="/forget"><button class="quiet">Forget all</button></form>`,
      ),
    );
  });
  app.post('/forget', (_request, response) => {
    kept.forget();
    response.redirect(303, '/');
  });
  app.get('/letters/:id', (request, response, next) => {
    const letter = kept.letter(Number(request.params.id));
    if (letter) response.send(page(letter.subject, letterBody(letter)));
    else next();
  });
  return app;
}

const letterBody = ({ from, to, at, html, text }: Letter) =>
  `<p><a href="/">All that arrived</a></p>
  <dl><dt>From</dt><dd>${escaped(from)}</dd><dt>To</dt><dd>${escaped(to)}</dd><dt>At</dt><dd>${at.toISOString()}</dd></dl>
  <article>${html || `<pre>${escaped(text)}</pre>`}</article>
  <details><summary>As plain text</summary><pre>${escaped(text)}</pre></details>`;

const page = (title: string, body: string) =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
  <title>${escaped(title)} · Simulators</title><link rel="stylesheet" href="/simulators.css"></head>
  <body><header>Simulators: mail goes no further than here</header><main><h1>${escaped(title)}</h1>${body}</main></body></html>`;

const escaped = (text: string) => text.replace(/[&<>"']/g, (character) => `&#${character.codePointAt(0)};`);

const CSS = `
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
article { padding: 6px 24px; border: 1px solid color-mix(in srgb, CanvasText 25%, Canvas); border-radius: 6px; font: 16px/1.55 'DejaVu Serif', serif; }
pre { white-space: pre-wrap; }
`;
