import { readMail } from './read-mail';

/** After the simple report of RFC 5965, appendix B.1; from memory, with addresses of our own. */
const report = (type: string, about: string): string =>
  [
    'From: <abusedesk@provider.example>',
    'To: <abuse@in.convite.example>',
    'Subject: FW: Earn money',
    'MIME-Version: 1.0',
    'Content-Type: multipart/report; report-type=feedback-report; boundary="part1"',
    '',
    '--part1',
    'Content-Type: text/plain; charset="US-ASCII"',
    '',
    'This is an email abuse report for an email message.',
    '',
    '--part1',
    'Content-Type: message/feedback-report',
    '',
    `Feedback-Type: ${type}`,
    'User-Agent: SomeGenerator/1.0',
    'Version: 1',
    '',
    '--part1',
    `Content-Type: ${about}`,
    'Content-Disposition: inline',
    '',
    'From: <club@spec.example>',
    'To: <reader@provider.example>',
    'Subject: Tonight',
    'Message-ID: <d12.0123456789@in.convite.example>',
    '',
    'Come!',
    '--part1--',
    '',
  ].join('\r\n');

describe('a report that somebody called a message unwanted (RFC 5965)', () => {
  const complaintIn = async (raw: string) => (await readMail(Buffer.from(raw), '')).complaint;

  it('names the message, whether it comes along whole or by its header alone', async () => {
    for (const about of ['message/rfc822', 'text/rfc822-headers'])
      expect(await complaintIn(report('abuse', about)))
        .withContext(about)
        .toBe('<d12.0123456789@in.convite.example>');
  });

  it('is none where it reports something else, or where nobody reports', async () => {
    expect(await complaintIn(report('not-spam', 'message/rfc822'))).toBeNull();
    expect(
      await complaintIn(report('abuse', 'message/rfc822').replace('feedback-report', 'delivery-status')),
    ).toBeNull();
    expect(await complaintIn('From: a@b.example\r\n\r\nMessage-ID: <d1.0123456789@x.example>')).toBeNull();
  });
});
