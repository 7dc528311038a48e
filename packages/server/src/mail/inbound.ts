import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import type { Logger } from 'pino';
import { TooHard } from '../threads/bounded-thread';
import { openMailReader } from './mail-reader';
import { NotNow, type ReceivedMail } from './received-mail';
import { openTurnstile } from './turnstile';

const mostOctets = 2 * 1024 * 1024;
const mostClients = 100;
const mostRecipients = 5;
const mostMessagesAMinute = 300;

export interface InboundOptions {
  readonly host: string;
  readonly port: number;
  /** Addresses of relays whose verdict on senders we believe, and the name they sign it with. */
  readonly relays: readonly string[];
  readonly authservId: string;
  /** Is there such an address here? Others are refused before their mail is taken. */
  readonly isOurs: (address: string) => boolean;
  /** The address of the person whose own address here that is; empty when it is nobody's. */
  readonly knownAs: (address: string) => Promise<string>;
  readonly receive: (mail: ReceivedMail) => Promise<unknown>;
  readonly log: Logger;
}

/**
 * Convite's own SMTP receiver, for replies, bounces, opt-outs and what people write. A message is answered 250 only after
 * what it asks is stored; when that fails the sender is told 451 and keeps it. What strangers send is bounded in size,
 * number and rate, and read in a thread that can be ended.
 */
export function openInbound(options: InboundOptions): { close(): Promise<void> } {
  const { host, port, relays, authservId, isOurs, knownAs, receive, log } = options;
  const reader = openMailReader(log);
  const turnstile = openTurnstile(mostMessagesAMinute);
  const isRelay = (address: string): boolean => relays.includes(address.replace(/^::ffff:/, ''));
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    size: mostOctets,
    maxClients: mostClients,
    socketTimeout: 60_000,
    closeTimeout: 5000,
    logger: false,
    onMailFrom: ({ address }, session, callback) => {
      void address;
      if (isRelay(session.remoteAddress) || turnstile.lets(session.remoteAddress)) callback();
      else callback(smtpError(451, '4.7.1 too many messages from you; wait a minute'));
    },
    onRcptTo: ({ address }, session, callback) => {
      if (session.envelope.rcptTo.length >= mostRecipients) callback(smtpError(452, '4.5.3 too many recipients'));
      else if (isOurs(address.toLowerCase())) callback();
      else callback(smtpError(550, '5.1.1 no such address here; no relaying'));
    },
    onData: (stream, session, callback) => {
      take(stream, session).then(
        () => callback(null, 'taken'),
        (error: unknown) => callback(answerTo(error)),
      );
    },
  });
  server.on('error', (error) => log.warn({ error }, 'inbound mail'));
  let isClosed = false;
  // An address in use, or not there yet, is tried again; meanwhile everything else works, and it is told (health).
  const listen = (): void => {
    if (!isClosed) server.listen(port, host);
  };
  server.server.on('error', (error) => {
    log.error({ error }, 'incoming mail cannot be taken; trying again');
    if (!server.server.listening) setTimeout(listen, 5000).unref();
  });
  listen();
  return {
    async close() {
      isClosed = true;
      await new Promise<void>((done) => server.close(() => done()));
      await reader.close();
    },
  };

  async function take(stream: SMTPServerDataStream, session: SMTPServerSession): Promise<void> {
    const octets = await gather(stream, () => hangUpOn(session));
    const to = session.envelope.rcptTo.map(({ address }) => address.toLowerCase());
    const read = await reader.read(octets, await knownAs(to[0] ?? ''));
    const arrival = {
      ip: session.remoteAddress,
      helo: typeof session.hostNameAppearsAs === 'string' ? session.hostNameAppearsAs : '',
      sender: session.envelope.mailFrom ? session.envelope.mailFrom.address : '',
      authservId,
      isFromRelay: isRelay(session.remoteAddress),
    };
    await receive({ ...read, to, isProved: () => reader.isProved(octets, read.fromAddress, arrival) });
  }

  /** Ends the connection of a session: past the limit nothing more is listened to. */
  function hangUpOn({ id }: SMTPServerSession): void {
    for (const connection of server.connections) if (connection.id === id) connection.close();
  }

  function answerTo(error: unknown): Error {
    if (error instanceof TooBig) return smtpError(552, '5.3.4 message too big');
    if (error instanceof NotNow) return smtpError(451, `4.7.1 ${error.message}`);
    if (error instanceof TooHard) {
      log.warn({ error }, 'a received message cannot be read');
      return smtpError(554, '5.6.0 this message cannot be read');
    }
    log.error({ error }, 'a received message could not be stored');
    return smtpError(451, '4.3.0 try again later');
  }
}

class TooBig extends Error {}

/** The message's octets. One that says a small size and is not is cut off where it becomes too big. */
function gather(stream: SMTPServerDataStream, hangUp: () => void): Promise<Uint8Array> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    let length = 0;
    stream.on('data', (chunk: Buffer) => {
      length += chunk.length;
      if (length <= mostOctets) chunks.push(chunk);
      else {
        chunks.length = 0;
        reject(new TooBig());
        hangUp();
      }
    });
    stream.on('error', reject);
    stream.on('end', () => (length > mostOctets ? reject(new TooBig()) : resolve(Buffer.concat(chunks))));
  });
}

const smtpError = (responseCode: number, message: string): Error => Object.assign(new Error(message), { responseCode });
