import { appendFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { simpleParser } from 'mailparser';

/** A message as the list of a mailbox shows it. */
export interface MailSummary {
  readonly id: string;
  readonly at: string;
  readonly to: string;
  readonly from: string;
  readonly envelopeFrom: string;
  readonly subject: string;
  /** Of the calendar part; empty when there is none. */
  readonly method: string;
}

/** Mailboxes on disk: one file a message, one line each in an index that is read at start. */
export interface MailStore {
  add(raw: Buffer, envelopeFrom: string, recipients: readonly string[]): Promise<MailSummary[]>;
  mailboxes(search: string): { address: string; count: number; lastAt: string; lastSubject: string }[];
  messages(address: string): MailSummary[];
  /** What came last, to whomever, the latest first. */
  latest(search: string): MailSummary[];
  find(id: string): MailSummary | undefined;
  raw(id: string): Promise<Buffer>;
}

const mostShown = 200;

export function openMailStore(dataDir: string): MailStore {
  mkdirSync(join(dataDir, 'mail'), { recursive: true });
  const indexFile = join(dataDir, 'mail.ndjson');
  const byAddress = new Map<string, MailSummary[]>();
  const byId = new Map<string, MailSummary>();
  const inOrder: MailSummary[] = [];
  const remember = (summary: MailSummary): void => {
    const box = byAddress.get(summary.to);
    if (box) box.push(summary);
    else byAddress.set(summary.to, [summary]);
    byId.set(summary.id, summary);
    inOrder.push(summary);
  };
  if (existsSync(indexFile)) {
    for (const line of readFileSync(indexFile, 'utf8').split('\n')) if (line) remember(JSON.parse(line) as MailSummary);
  }
  const fileOf = (id: string): string => join(dataDir, 'mail', `${id}.eml`);

  return {
    async add(raw, envelopeFrom, recipients) {
      const summaries: MailSummary[] = [];
      const head = await parseHead(raw);
      for (const recipient of recipients) {
        const to = recipient.toLowerCase();
        const summary = { id: `m${byId.size + 1}`, to, envelopeFrom, ...head };
        remember(summary);
        summaries.push(summary);
        await writeFile(fileOf(summary.id), raw);
        appendFileSync(indexFile, `${JSON.stringify(summary)}\n`);
      }
      return summaries;
    },
    mailboxes(search) {
      const wanted = search.toLowerCase();
      return [...byAddress]
        .filter(([address]) => address.includes(wanted))
        .map(([address, messages]) => {
          const last = messages.at(-1);
          return { address, count: messages.length, lastAt: last?.at ?? '', lastSubject: last?.subject ?? '' };
        })
        .sort((a, b) => b.lastAt.localeCompare(a.lastAt))
        .slice(0, mostShown);
    },
    latest(search) {
      const wanted = search.toLowerCase();
      const found: MailSummary[] = [];
      for (let at = inOrder.length - 1; at >= 0 && found.length < mostShown; at -= 1) {
        const one = inOrder[at];
        if (one && `${one.to} ${one.subject}`.toLowerCase().includes(wanted)) found.push(one);
      }
      return found;
    },
    messages: (address) => [...(byAddress.get(address.toLowerCase()) ?? [])],
    find: (id) => byId.get(id),
    raw: (id) => readFile(fileOf(id)),
  };
}

/** Only the head is parsed on arrival; bodies wait until somebody opens them. */
async function parseHead(raw: Buffer): Promise<Pick<MailSummary, 'at' | 'from' | 'subject' | 'method'>> {
  const end = raw.indexOf('\r\n\r\n');
  const head = await simpleParser(raw.subarray(0, end < 0 ? raw.length : end + 4));
  const method =
    /text\/calendar;[^\r\n]*(?:\r\n[ \t][^\r\n]*)*?method=([A-Z]+)/i.exec(raw.toString('latin1'))?.[1] ?? '';
  return {
    at: (head.date ?? new Date()).toISOString(),
    from: head.from?.text ?? '',
    subject: head.subject ?? '(no subject)',
    method: method.toUpperCase(),
  };
}
