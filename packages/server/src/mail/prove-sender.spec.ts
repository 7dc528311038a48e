import { generateKeyPairSync } from 'node:crypto';
import nodemailer from 'nodemailer';
import { mimeOf } from './mime';
import { isSenderProved, type Arrival } from './prove-sender';
import { signedHeaders } from './smtp-sender';

const { privateKey, publicKey } = generateKeyPairSync('rsa', { modulusLength: 2048 });
const pem = privateKey.export({ type: 'pkcs8', format: 'pem' }).toString();
const published = publicKey.export({ type: 'spki', format: 'der' }).toString('base64');

/** The names of a little world; everything else does not exist. */
const names: Record<string, string[][]> = {
  's._domainkey.people.example': [[`v=DKIM1; k=rsa; p=${published}`]],
  'people.example': [['v=spf1 ip4:192.0.2.1 -all']],
  'evil.example': [['v=spf1 ip4:192.0.2.66 -all']],
  's._domainkey.evil.example': [[`v=DKIM1; k=rsa; p=${published}`]],
  '_dmarc.people.example': [['v=DMARC1; p=reject']],
};
const resolver = (name: string, type: string): Promise<string[][]> => {
  const found = type === 'TXT' ? names[name] : undefined;
  return found
    ? Promise.resolve(found)
    : Promise.reject(Object.assign(new Error('no such name'), { code: 'ENOTFOUND' }));
};
const arrival: Arrival = {
  ip: '192.0.2.66',
  helo: 'mail.evil.example',
  sender: 'x@evil.example',
  authservId: '',
  isFromRelay: false,
};

const rawOf = (mail: object, dkim?: object): Promise<Buffer> =>
  new Promise((resolve, reject) =>
    nodemailer
      .createTransport({ streamTransport: true, buffer: true, newline: 'windows', ...(dkim && { dkim }) })
      .sendMail({ to: 'r@in.example', text: 'x', ...mail }, (error, info) =>
        error ? reject(error) : resolve(info.message as Buffer),
      ),
  );
const signedBy = (domainName: string) => ({
  domainName,
  keySelector: 's',
  privateKey: pem,
  headerFieldNames: signedHeaders,
});
const from = 'ana@people.example';

describe('whether a sender is proved (RFC 7489 §3.1, RFC 6376, RFC 7208)', () => {
  const ask = async (dkim: object | undefined, over: Partial<Arrival> = {}): Promise<boolean> =>
    isSenderProved(await rawOf({ from }, dkim), from, { ...arrival, ...over }, resolver);

  it('believes a signature of the sender’s own domain, and none of another', async () => {
    expect([await ask(signedBy('people.example')), await ask(signedBy('evil.example')), await ask(undefined)]).toEqual([
      true,
      false,
      false,
    ]);
  });
  it('believes the machine that the sender’s domain sends from, when the envelope is in line with From', async () => {
    expect(await ask(undefined, { ip: '192.0.2.1', sender: from })).toBeTrue();
    expect(await ask(undefined, { sender: 'x@evil.example' })).toBeFalse();
    expect(await ask(undefined, { sender: from })).toBeFalse();
  });
  it('believes a changed message nothing', async () => {
    const raw = await rawOf({ from }, signedBy('people.example'));
    const changed = Buffer.from(raw.toString('latin1').replace(/\r\n\r\nx/, '\r\n\r\ny'), 'latin1');
    expect(await isSenderProved(changed, from, arrival, resolver)).toBeFalse();
  });
  it('signs one-click opting out (RFC 8058 §4) and the thread with everything else', async () => {
    const message = {
      kind: 'email',
      preheader: '',
      messageId: '<d1@x>',
      envelopeFrom: 'b@x.example',
      from: { name: 'House', address: from },
      replyTo: '',
      to: { name: '', address: 'p@x.example' },
      subject: 'Hello',
      date: new Date(0),
      text: 'x',
      html: '<p>x</p>',
      calendar: null,
      inReplyTo: '<d2@x>',
      optOut: { url: 'https://x.example/o', mailto: 'mailto:o@x.example' },
      listId: '<l.x.example>',
    } as const;
    const raw = await rawOf(mimeOf(message), signedBy('people.example'));
    const signature = /DKIM-Signature:[^]*?(?=\r\n\S)/i.exec(raw.toString())?.[0].replace(/\s+/g, '') ?? '';
    expect(/;h=([^;]+)/.exec(signature)?.[1]?.toLowerCase().split(':')).toEqual(
      jasmine.arrayContaining([
        'list-unsubscribe',
        'list-unsubscribe-post',
        'list-id',
        'from',
        'subject',
        'in-reply-to',
        'references',
      ]),
    );
    expect(await isSenderProved(raw, from, arrival, resolver)).toBeTrue();
  });
});
