import { SMTPServer } from 'smtp-server';
import { sleep, slowMs, type Faults } from './faults';
import type { MailStore, MailSummary } from './mail-store';

/** The stand-in for everybody's mail server: takes mail for any address, unless a fault says otherwise. */
export function openMailServer(store: MailStore, faults: Faults, onBounce: (mail: MailSummary) => void): SMTPServer {
  const refusal = (): Error | null => {
    if (faults.mail === 'refuse') return smtpError(550, '5.1.1 no such person here (simulated)');
    if (faults.mail === 'defer') return smtpError(451, '4.3.2 busy, come back later (simulated)');
    return null;
  };
  return new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    logger: false,
    onRcptTo: (_address, _session, callback) => callback(refusal()),
    onData: (stream, session, callback) => {
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', () => {
        void take(
          Buffer.concat(chunks),
          session.envelope.mailFrom ? session.envelope.mailFrom.address : '',
          session.envelope.rcptTo.map(({ address }) => address),
        ).then(
          () => callback(null, 'taken'),
          (error: unknown) => callback(smtpError(451, String(error))),
        );
      });
    },
  });

  async function take(raw: Buffer, envelopeFrom: string, recipients: string[]): Promise<void> {
    if (faults.mail === 'slow') await sleep(slowMs);
    if (faults.mail === 'lose') return;
    const kept = await store.add(raw, envelopeFrom, recipients);
    if (faults.mail === 'bounce') kept.forEach(onBounce);
  }
}

const smtpError = (responseCode: number, message: string): Error => Object.assign(new Error(message), { responseCode });
