// The outside world of the soak: a mail server and a text gateway that keep count of what they took, and can misbehave.
import { createServer } from 'node:http';
import { SMTPServer } from 'smtp-server';

/**
 * @returns what was taken, by Message-ID or reference; and the faults, each switched on and off
 */
export async function openWorld({ smtpPort, gatewayPort, random }) {
  const mails = new Map();
  const texts = new Map();
  const faults = { mail: 'none', text: 'none' };
  const take = (kept, key, one) => kept.set(key, [...(kept.get(key) ?? []), one]);

  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    logger: false,
    onRcptTo: (_address, _session, callback) =>
      faults.mail === 'refusing' ? callback(smtpError(451, '4.3.2 not now (soak)')) : callback(),
    onData: (stream, session, callback) => {
      const chunks = [];
      stream.on('data', (chunk) => chunks.push(chunk));
      stream.on('end', () => {
        // Answers nothing and takes nothing.
        if (faults.mail === 'hanging') return;
        const raw = Buffer.concat(chunks).toString('utf8');
        const id = /^Message-ID:\s*<([^>]+)>/im.exec(raw)?.[1] ?? '';
        const [to] = session.envelope.rcptTo.map(({ address }) => address);
        take(mails, id, { to, raw: raw.includes('text/calendar') ? raw : '' });
        // Takes it, and is gone before it says so.
        if (faults.mail === 'dropping') {
          for (const connection of smtp.connections) if (connection.id === session.id) connection.close();
          return;
        }
        callback(null, 'taken');
      });
    },
  });
  smtp.on('error', () => undefined);
  await new Promise((resolve) => smtp.listen(smtpPort, '127.0.0.1', resolve));

  const gateway = createServer((request, response) => {
    const chunks = [];
    request.on('data', (chunk) => chunks.push(chunk));
    request.on('end', () => {
      if (request.method !== 'POST') return response.writeHead(404).end();
      if (faults.text === 'hanging') return undefined;
      const { reference, to, callbackUrl } = JSON.parse(Buffer.concat(chunks).toString('utf8'));
      // As a real one does: a repeat is known by its key, and is not sent again.
      if (!texts.has(reference)) take(texts, reference, { to });
      response.writeHead(202).end();
      if (faults.text !== 'losing receipts')
        setTimeout(() => {
          void fetch(`${callbackUrl}/receipt`, {
            method: 'POST',
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify({ reference, status: 'delivered' }),
          }).catch(() => undefined);
        }, 100 * random());
      return undefined;
    });
  });
  await new Promise((resolve) => gateway.listen(gatewayPort, '127.0.0.1', resolve));

  return {
    mails,
    texts,
    faults,
    close() {
      smtp.close();
      gateway.closeAllConnections();
      gateway.close();
    },
  };
}

const smtpError = (responseCode, message) => Object.assign(new Error(message), { responseCode });
