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

describe('a delivery report', () => {
  const bounceIn = async (raw: string) => (await readMail(Buffer.from(raw), '')).bounce;
  /** After the example of RFC 6533 §3, from memory, with addresses of our own. */
  const failed = (type: string, encoding: string, part: string): string =>
    [
      'From: MAILER-DAEMON@mx.example',
      'MIME-Version: 1.0',
      'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
      '',
      '--b',
      'Content-Type: text/plain; charset="utf-8"',
      '',
      'It could not be delivered.',
      '--b',
      `Content-Type: ${type}`,
      `Content-Transfer-Encoding: ${encoding}`,
      '',
      part,
      '--b--',
      '',
    ].join('\r\n');
  const said = [
    'Reporting-MTA: dns; mx.example',
    '',
    'Original-Recipient: utf-8; josé@räksmörgås.example',
    'Final-Recipient: utf-8; josé@räksmörgås.example',
    'Action: failed',
    'Status: 5.1.1',
    'Diagnostic-Code: smtp; 550 5.1.1 josé is not known here',
  ].join('\r\n');

  it('is read of addresses that are not ASCII (RFC 6533), as of all others (RFC 3464)', async () => {
    const expected = { isFailed: true, about: 'address', text: '550 5.1.1 josé is not known here' } as const;
    const base64 = Buffer.from(said).toString('base64');
    expect(await bounceIn(failed('message/global-delivery-status', '8bit', said))).toEqual(expected);
    expect(await bounceIn(failed('message/global-delivery-status', 'base64', base64))).toEqual(expected);
    expect(await bounceIn(failed('message/delivery-status', '8bit', said.replaceAll('josé', 'jo')))).toEqual({
      ...expected,
      text: '550 5.1.1 jo is not known here',
    });
  });
});

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
