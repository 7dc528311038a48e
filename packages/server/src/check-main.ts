// `node dist/server/check.mjs`: tries every end that Convite depends on, and says what is wrong in words.
import { createHash, createPublicKey } from 'node:crypto';
import { resolveMx, resolveTxt } from 'node:dns/promises';
import nodemailer from 'nodemailer';
import { probesOf } from './assemble';
import { isPlaceholderAddress } from '@convite/core';
import { readConfig, type Config } from './config';
import { probeSmtp } from './net/probe';
import { clockProbe } from './services/health';
import { openDatabase } from './store/database';
import { openStore, type Store } from './store/store';

/** What was tried, and what is wrong with it; null when nothing is. */
interface Finding {
  readonly what: string;
  readonly wrong: string | null;
}

const config = readConfig(process.env);
const db = openDatabase(config.DATABASE_URL, 2);
const store = openStore(db);
const findings = [
  ...(await aboutDatabase(store)),
  await tried('the mail server takes our name and password', () => signIn(config)),
  ...(await Promise.all(probesOf(config).map(({ part, ask }) => tried(`${part} answers`, ask)))),
  await tried('incoming mail is taken', () =>
    probeSmtp({ host: config.INBOUND_HOST, port: config.INBOUND_PORT, isSecure: false }),
  ),
  await tried('people reach the web address', () => askWeb(config)),
  ...(await aboutNames(config, store)),
];
for (const { what, wrong } of findings) console.log(wrong === null ? `ok     ${what}` : `WRONG  ${what}: ${wrong}`);
const count = findings.filter(({ wrong }) => wrong !== null).length;
console.log(count ? `\n${count} of ${findings.length} are wrong.` : `\nAll ${findings.length} are well.`);
await db.destroy();
process.exit(count ? 1 : 0);

async function tried(what: string, ask: () => Promise<string | null>): Promise<Finding> {
  try {
    return { what, wrong: await ask() };
  } catch (error) {
    return { what, wrong: withCauses(error) };
  }
}

/** What went wrong and why: `fetch failed` alone says nothing. */
function withCauses(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  const inner = error instanceof AggregateError ? error.errors.map(withCauses).join('; ') : '';
  const cause = error.cause === undefined ? '' : withCauses(error.cause);
  return [error.message || error.name, inner, cause].filter(Boolean).join(': ');
}

async function aboutDatabase({ house, live, leases, troubles, linkEndings }: Store): Promise<Finding[]> {
  const there = await tried('the database answers', async () => {
    await live.ping();
    return null;
  });
  if (there.wrong !== null) return [there];
  return [
    there,
    await tried('it is set up', async () =>
      (await house.hasSettings()) ? null : 'run node dist/server/setup.mjs first.',
    ),
    await tried('the postal address is filled in', async () =>
      (await house.settings()).postalAddress ? null : 'nothing goes out before it is; see Settings.',
    ),
    await tried('nothing looks as if somebody used the links of others', async () => {
      const rows = await linkEndings.misuses(0, 20);
      for (const { at, what, personId } of rows)
        console.log(`       ${at} ${what}${personId === null ? '' : ` (person ${personId})`}`);
      return rows.length
        ? `${rows.length < 20 ? rows.length : 'the latest 20'} listed above are not reviewed; an owner reviews them in Settings, Personal links. node dist/server/end-links.mjs ends all personal links.`
        : null;
    }),
    await tried('the sender is an address of yours', async () => {
      const { email } = (await house.settings()).sender;
      return isPlaceholderAddress(email) ? `${email} is only an example; see Settings.` : null;
    }),
    await tried('a worker is running', async () =>
      (await leases.liveWorkers()) > 0 ? null : 'start node dist/server/worker.mjs.',
    ),
    await tried('clocks agree', () => clockProbe({ troubles }).ask()),
  ];
}

async function signIn({ SMTP_URL, SMTP_HELO, SMTP_CA_FILE }: Config): Promise<string | null> {
  const transport = nodemailer.createTransport({
    url: SMTP_URL,
    connectionTimeout: 8000,
    greetingTimeout: 8000,
    ...(SMTP_HELO && { name: SMTP_HELO }),
    ...(SMTP_CA_FILE && { tls: { ca: SMTP_CA_FILE } }),
  });
  try {
    await transport.verify();
    return null;
  } catch (error) {
    const words = error instanceof Error ? error.message : String(error);
    return /certificate|self.signed|altname/i.test(words)
      ? `its certificate does not verify (${words}); name the authority's file in SMTP_CA_FILE.`
      : words;
  } finally {
    transport.close();
  }
}

async function askWeb({ PUBLIC_URL }: Config): Promise<string | null> {
  const response = await fetch(`${PUBLIC_URL}/healthz`, { signal: AbortSignal.timeout(8000) });
  await response.body?.cancel();
  return response.ok ? null : `${PUBLIC_URL}/healthz answers ${response.status}.`;
}

/** What the world's mail servers ask the DNS about us: where answers go, who may send, and whose signature it is. */
async function aboutNames(config: Config, { house }: Store): Promise<Finding[]> {
  const { MAIL_DOMAIN, DKIM_DOMAIN, DKIM_SELECTOR, DKIM_PRIVATE_KEY } = config;
  const sender = await house.settings().then(
    ({ sender: { email } }) => email.split('@')[1] ?? '',
    () => '',
  );
  const text = async (name: string, start: RegExp): Promise<string | null> =>
    (await resolveTxt(name)).map((pieces) => pieces.join('')).find((one) => start.test(one)) ?? null;
  const findings = [
    await tried(`${MAIL_DOMAIN} says where its mail goes (MX)`, async () =>
      (await resolveMx(MAIL_DOMAIN)).length ? null : 'it has no MX record.',
    ),
    await tried(`${MAIL_DOMAIN} says who sends for it (SPF)`, async () =>
      (await text(MAIL_DOMAIN, /^v=spf1\b/i)) === null ? 'it has no v=spf1 record.' : null,
    ),
  ];
  if (sender) {
    findings.push(
      await tried(`${sender} has a DMARC record`, async () =>
        (await text(`_dmarc.${sender}`, /^v=DMARC1\b/i)) === null ? 'it has none.' : null,
      ),
    );
    const isAligned = MAIL_DOMAIN === sender || MAIL_DOMAIN.endsWith(`.${sender}`) || DKIM_DOMAIN === sender;
    findings.push({
      what: 'the sender in Settings is in line with what is proved (DMARC alignment)',
      wrong: isAligned
        ? null
        : `mail comes from ${sender}, but only ${MAIL_DOMAIN}${DKIM_DOMAIN ? ` and ${DKIM_DOMAIN}` : ''} can be proved: make MAIL_DOMAIN a part of it, or sign for it.`,
    });
  }
  if (DKIM_DOMAIN && DKIM_SELECTOR && DKIM_PRIVATE_KEY) {
    const name = `${DKIM_SELECTOR}._domainkey.${DKIM_DOMAIN}`;
    findings.push(
      await tried(`${name} holds the key that we sign with (DKIM)`, async () => {
        const published = /p=([A-Za-z0-9+/=]+)/.exec(((await text(name, /p=/)) ?? '').replace(/\s+/g, ''))?.[1];
        if (!published) return 'there is no key.';
        const own = createPublicKey(DKIM_PRIVATE_KEY).export({ type: 'spki', format: 'der' });
        const digest = (octets: Uint8Array): string => createHash('sha256').update(octets).digest('hex');
        return digest(own) === digest(Buffer.from(published, 'base64')) ? null : 'it is another key than ours.';
      }),
    );
  }
  return findings;
}
