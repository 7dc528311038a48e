import { Router } from 'express';
import rateLimit from 'express-rate-limit';
import { escapeHtml } from '@convite/core';
import type { Context } from '../../services/context';
import { publicHouse, writePage } from '../../public/page';
import { operations } from './operations';
import type { Operation } from './operation';
import { writeOpenApi } from './open-api';

const webhookDocs = `<h2 id="webhooks">Being told</h2>
<p>Settings also name addresses that are told of opt-outs, bounces, answers and registrations, as they happen. Each is a POST with a JSON body;
answer with any 2xx within ten seconds. What is not taken is posted again, after a minute at first and a day at last, eight times in all; <code>id</code> stays the same.</p>
<pre tabindex="0"><code>${escapeHtml(`{
  "id": "42",
  "kind": "opt-out",
  "at": "2031-06-09T10:00:00.000Z",
  "subscriber": { "id": 1, "email": "ana@people.example", "mobile": "" },
  "event": null,
  "channel": "email",
  "detail": ""
}`)}</code></pre>
<p>It is signed as RFC 9421 says, with <code>hmac-sha256</code> and the secret that was shown when the address was added: <code>Content-Digest</code> is the body’s
(RFC 9530), and the signature is over <code>"@method" "@target-uri" "content-digest"</code>. Refuse what is older than a few minutes by <code>created</code>.</p>`;

/** What programs may ask, for whoever writes one: to read, and as OpenAPI. */
export function programDocsRoutes(context: Context, publicUrl: string): Router {
  const routes = Router();
  // Everybody may read it, and it is the same for everybody: written once.
  const docs = writeDocs(`${publicUrl}/programs`);
  const openApi = JSON.stringify(writeOpenApi(publicUrl));
  routes.use(rateLimit({ windowMs: 60_000, limit: 120, standardHeaders: 'draft-8', legacyHeaders: false }));
  routes.get('/', async (_request, response) => {
    response.send(writePage('For programs', await publicHouse(context), docs));
  });
  routes.get('/openapi.json', (_request, response) => {
    response.type('json').send(openApi);
  });
  return routes;
}

const idOf = ({ method, path }: Operation): string => `${method}${path.replace(/[^a-z]+/gi, '-')}`;

function writeDocs(base: string): string {
  const index = operations
    .map((one) => `<li><a href="#${idOf(one)}"><code>${name(one)}</code></a> ${escapeHtml(one.summary)}</li>`)
    .join('\n');
  return `<h1>For programs</h1>
<p>Subscribers, lists, consents and people’s own times, by HTTP and JSON. The same as <a href="/docs/api/openapi.json">OpenAPI</a>.</p>
<p>An owner makes a key in Settings, for some of it and for so many days. Send it with every request:</p>
<pre tabindex="0"><code>Authorization: Bearer cv_…</code></pre>
<p>300 requests a minute; more are answered 429, with when to come again. What is refused says why, as <code>application/problem+json</code>. Rows are taken each for itself: look at each one’s outcome.</p>
<ul>
${index}
</ul>
${operations.map((one) => writeOperation(one, base)).join('\n')}
${webhookDocs}`;
}

const name = ({ method, path }: Operation): string => escapeHtml(`${method.toUpperCase()} ${path}`);

function writeOperation(one: Operation, base: string): string {
  const { method, scope, summary, about, takesKey, example, answer } = one;
  const shown = [
    `curl ${method === 'get' ? '' : `-X ${method.toUpperCase()} `}'${base}${example.path}'`,
    `-H 'Authorization: Bearer cv_…'`,
    ...(takesKey ? [`-H 'Idempotency-Key: booking-20310601-17'`] : []),
    ...(example.body === undefined
      ? []
      : [`-H 'Content-Type: application/json'`, `-d '${JSON.stringify(example.body, null, 2)}'`]),
  ].join(' \\\n  ');
  const said = [about, takesKey ? 'Asked again with the same `Idempotency-Key` within two days, it is done once.' : '']
    .filter(Boolean)
    .map((text) => `<p>${inline(text)}</p>`)
    .join('\n');
  const answered = answer === null ? '204, and nothing' : JSON.stringify(example.answer, null, 2);
  return `<h2 id="${idOf(one)}"><code>${name(one)}</code></h2>
<p>${escapeHtml(summary)}. The key must be for <code>${scope}</code>.</p>
${said}
<pre tabindex="0"><code>${escapeHtml(shown)}</code></pre>
<p class="small">Answer:</p>
<pre tabindex="0"><code>${escapeHtml(answered)}</code></pre>`;
}

const inline = (text: string): string => escapeHtml(text).replace(/`([^`]+)`/g, '<code>$1</code>');
