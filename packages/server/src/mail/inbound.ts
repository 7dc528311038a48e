import { simpleParser, type ParsedMail } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { Logger } from 'pino';
import type { ReceivedMail } from '../services/receive-mail';

const mostOctets = 2 * 1024 * 1024;

export interface InboundOptions {
  readonly host: string;
  readonly port: number;
  /** Only addresses of this domain are taken. */
  readonly mailDomain: string;
  readonly receive: (mail: ReceivedMail) => Promise<unknown>;
  readonly log: Logger;
}

/**
 * Convite's own SMTP receiver, for replies, bounces and opt-outs. A message is answered 250 only after what it asks is
 * stored; when that fails the sender is told 451 and keeps it.
 */
export function openInbound({
  host,
  port,
  mailDomain,
  receive,
  log,
}: InboundOptions): Promise<{ close(): Promise<void> }> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    size: mostOctets,
    logger: false,
    onRcptTo: ({ address }, _session, callback) =>
      address.toLowerCase().endsWith(`@${mailDomain}`)
        ? callback()
        : callback(smtpError(550, '5.7.1 no relaying here')),
    onData: (stream, session, callback) => {
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', () => {
        if (stream.sizeExceeded) return callback(smtpError(552, '5.3.4 message too big'));
        const to = session.envelope.rcptTo.map(({ address }) => address.toLowerCase());
        simpleParser(Buffer.concat(chunks), { skipHtmlToText: true })
          .then((parsed) => receive(takeApart(parsed, to)))
          .then(
            () => callback(null, 'taken'),
            (error: unknown) => {
              log.error({ error }, 'a received message could not be stored');
              callback(smtpError(451, '4.3.0 try again later'));
            },
          );
      });
    },
  });
  server.on('error', (error) => log.warn({ error }, 'inbound mail'));
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, () => resolve({ close: () => new Promise((done) => server.close(() => done())) }));
  });
}

const smtpError = (responseCode: number, message: string): Error => Object.assign(new Error(message), { responseCode });

/** What the use cases need of a parsed message. */
export function takeApart(mail: ParsedMail, to: readonly string[]): ReceivedMail {
  const parts = mail.attachments.filter(
    ({ contentType }) => contentType === 'text/calendar' || contentType === 'application/ics',
  );
  // The same answer as part and as file is one answer.
  const calendars = [...new Set(parts.map(({ content }) => content.toString('utf8')))];
  const automatic = mail.headers.get('auto-submitted');
  return {
    to,
    fromAddress: (mail.from?.value[0]?.address ?? '').toLowerCase(),
    calendars,
    bounce: readBounce(mail),
    isAutomatic: typeof automatic === 'string' && automatic !== 'no',
  };
}

/** RFC 3464: the status notice inside a multipart/report; RFC 3463: its class says whether it is for good. */
function readBounce(mail: ParsedMail): ReceivedMail['bounce'] {
  const type = mail.headers.get('content-type');
  const params = typeof type === 'object' && 'params' in type ? Object.entries(type.params) : [];
  const isReport = params.some(([name, value]) => name === 'report-type' && value === 'delivery-status');
  if (!isReport) return null;
  // The parser takes a message/delivery-status part for text and joins it to the readable part.
  const text = mail.text ?? '';
  const code = /^Status:\s*([245])\.(\d{1,3})\.(\d{1,3})/im.exec(text);
  const diagnostic = /^Diagnostic-Code:\s*(?:[^;\r\n]+;)?\s*(.+(?:\r?\n[ \t].+)*)/im
    .exec(text)?.[1]
    ?.replace(/\s+/g, ' ');
  return { isPermanent: code?.[1] === '5', text: diagnostic ?? code?.[0] ?? 'bounced' };
}
