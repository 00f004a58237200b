import express, { type Express } from 'express';
import { messageCalls } from './calls.ts';
import type { Kept, Letter, Way } from './kept.ts';
import { CSS, escaped, page } from './page.ts';
import { payments } from './payments.ts';

const WAYS: Readonly<Record<Way, string>> = { mail: 'Mail', text: 'Text message', chat: 'Chat', hook: 'Web hook' };

/** Pages and JSON of everything that arrived, and the services' HTTP calls. */
export function createPages(kept: Kept): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.use((_request, response, next) => {
    // E-mails are shown as sent, without scripts. A payment's page sends the shopper back.
    response.set(
      'Content-Security-Policy',
      "default-src 'none'; style-src 'self' 'unsafe-inline'; img-src https: data:",
    );
    next();
  });
  app.get('/health', (_request, response) => void response.json({ status: 'alive' }));
  app.get('/simulators.css', (_request, response) => void response.type('css').send(CSS));
  app.use(messageCalls(kept));
  app.use(payments());
  const wordsIn = (find: unknown) => (typeof find === 'string' ? find : '');
  app.get('/letters.json', (request, response) => {
    response.json(kept.find(wordsIn(request.query.find)));
  });
  app.get('/', (request, response) => {
    const find = wordsIn(request.query.find);
    const letters = kept.find(find);
    const rows = letters.map(
      ({ id, at, to, way, subject }) =>
        `<tr><td class="time">${at.toISOString().slice(11, 19)}</td><td>${WAYS[way]}</td><td>${escaped(to)}</td><td><a href="/letters/${id}">${escaped(subject)}</a></td></tr>`,
    );
    const none = find === '' ? 'Nothing has arrived yet.' : 'Nothing that arrived says that.';
    response.send(
      page(
        'What arrived',
        `<form><label>Find by address or words <input name="find" value="${escaped(find)}"></label> <button>Find</button></form>
        ${rows.length === 0 ? `<p>${none}</p>` : `<table><thead><tr><th>Time (UTC)</th><th>By</th><th>To</th><th>Subject</th></tr></thead><tbody>${rows.join('')}</tbody></table>`}
        <form method="post" action="/forget"><button class="quiet">Forget all</button></form>
        <details><summary>Check the signatures of web hooks</summary><form method="post" action="/hook-secrets">
        <label>Secret <input name="secret" placeholder="whsec_…"></label> <button>Check by it</button></form></details>`,
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

const letterBody = ({ from, to, way, at, html, text }: Letter) =>
  `<p><a href="/">All that arrived</a></p>
  <dl><dt>From</dt><dd>${escaped(from)}</dd><dt>To</dt><dd>${escaped(to)}</dd><dt>By</dt><dd>${WAYS[way]}</dd><dt>At</dt><dd>${at.toISOString()}</dd></dl>
  ${html ? `<article>${html}</article><details><summary>As plain text</summary><pre>${escaped(text)}</pre></details>` : `<pre>${escaped(text)}</pre>`}`;
