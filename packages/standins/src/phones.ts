import { appendFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Router, type Request } from 'express';
import { sleep, slowMs, type Faults } from './faults';

interface PhoneText {
  readonly id: string;
  readonly at: string;
  readonly from: string;
  readonly to: string;
  readonly text: string;
}

const receiptAfterMs = 200;

/** The stand-in text gateway and everybody's phone behind it. */
export function openPhones(dataDir: string, faults: Faults): { gateway: Router; control: Router } {
  mkdirSync(dataDir, { recursive: true });
  const file = join(dataDir, 'texts.ndjson');
  const texts: PhoneText[] = existsSync(file)
    ? readFileSync(file, 'utf8')
        .split('\n')
        .filter(Boolean)
        .map((line) => JSON.parse(line) as PhoneText)
    : [];
  const seen = new Set(texts.map(({ id }) => id));
  let callbackUrl = '';
  const keep = (text: PhoneText): void => {
    texts.push(text);
    seen.add(text.id);
    appendFileSync(file, `${JSON.stringify(text)}\n`);
  };
  const field = (request: Request, name: string): string => {
    const body: unknown = request.body;
    const value: unknown = typeof body === 'object' && body !== null ? Reflect.get(body, name) : undefined;
    return typeof value === 'string' ? value : '';
  };
  const post = (path: string, body: object): void => {
    if (!callbackUrl) return;
    void fetch(`${callbackUrl}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    }).catch(() => undefined);
  };

  const gateway = Router();
  gateway.post('/messages', async (request, response) => {
    const [reference, from, to, text, sentAt] = ['reference', 'from', 'to', 'text', 'sentAt'].map((name) =>
      field(request, name),
    ) as [string, string, string, string, string];
    callbackUrl = field(request, 'callbackUrl') || callbackUrl;
    if (!/^\+\d{5,15}$/.test(to) || !text || !reference) {
      response.status(400).json({ error: 'reference, to (+digits) and text are needed' });
      return;
    }
    if (faults.text === 'refuse') {
      response.status(403).json({ error: 'this number takes no texts (simulated)' });
      return;
    }
    if (faults.text === 'slow') await sleep(slowMs);
    response.status(202).json({ id: reference });
    // The same reference again is the same text: it is not shown, or charged, twice.
    if (faults.text === 'lose' || seen.has(reference)) return;
    keep({ id: reference, at: sentAt || new Date().toISOString(), from, to, text });
    setTimeout(() => post('/receipt', { reference, status: 'delivered' }), receiptAfterMs);
  });

  const control = Router();
  control.get('/phones', (_request, response) => {
    const phones = new Map<string, { number: string; count: number; lastAt: string; lastText: string }>();
    for (const { to, at, text } of texts.filter(({ id }) => !id.startsWith('in-')))
      phones.set(to, { number: to, count: (phones.get(to)?.count ?? 0) + 1, lastAt: at, lastText: text });
    response.json([...phones.values()].sort((a, b) => b.lastAt.localeCompare(a.lastAt)).slice(0, 200));
  });
  control.get('/phones/:number', (request, response) => {
    response.json(texts.filter(({ to, from }) => to === request.params.number || from === request.params.number));
  });
  control.post('/phones/:number/reply', (request, response) => {
    const text = field(request, 'text');
    const number = request.params.number;
    const last = texts.findLast(({ to }) => to === number);
    keep({
      id: `in-${texts.length}`,
      at: last?.at ?? new Date().toISOString(),
      from: number,
      to: last?.from ?? '',
      text,
    });
    post('/incoming', { from: number, text });
    response.json({});
  });
  return { gateway, control };
}
