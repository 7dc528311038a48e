import { SMTPServer } from 'smtp-server';

/** A message as it reached the sink. */
export interface SunkMail {
  readonly to: string;
  readonly envelopeFrom: string;
  readonly messageId: string;
  readonly raw: string;
  /** When it came, by the machine's clock. */
  readonly atMs: number;
}

export interface Sink {
  readonly port: number;
  readonly mails: SunkMail[];
  /** What the next recipients are answered; null takes everything. */
  refusal: { code: number; text: string } | null;
  /** What single recipients are answered. */
  refuse: (address: string) => { code: number; text: string } | null;
  /** How long each message takes. */
  delayMs: number;
  close(): Promise<void>;
}

/** A real SMTP server that keeps what it is given, for specs and the bench. */
export async function openSink(port = 0, keepRaw = true): Promise<Sink> {
  const mails: SunkMail[] = [];
  const sink = { port, mails, refusal: null as Sink['refusal'], refuse: (() => null) as Sink['refuse'], delayMs: 0 };
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    logger: false,
    onRcptTo: ({ address }, _session, callback) => {
      const refusal = sink.refuse(address) ?? sink.refusal;
      callback(refusal && Object.assign(new Error(refusal.text), { responseCode: refusal.code }));
    },
    onData: (stream, session, callback) => {
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', () => {
        const raw = Buffer.concat(chunks).toString('utf8');
        const messageId = /^Message-ID:\s*(\S+)/im.exec(raw)?.[1] ?? '';
        const envelopeFrom = session.envelope.mailFrom ? session.envelope.mailFrom.address : '';
        for (const { address } of session.envelope.rcptTo)
          mails.push({ to: address, envelopeFrom, messageId, raw: keepRaw ? raw : '', atMs: Date.now() });
        setTimeout(() => callback(null, 'sunk'), sink.delayMs);
      });
    },
  });
  server.on('error', () => undefined);
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
  const address = server.server.address();
  return Object.assign(sink, {
    port: typeof address === 'object' && address ? address.port : port,
    close: () => new Promise<void>((resolve) => server.close(() => resolve())),
  });
}
