import { readAuthenticationResults } from './authentication-results';
import { isSenderProved } from './prove-sender';

/** Method, result and properties of each verdict; null for what breaks the grammar. */
const read = (value: string) =>
  readAuthenticationResults(value)?.results.map(({ method, result, properties }) =>
    [`${method}=${result}`, ...[...properties].map(([name, said]) => `${name}=${said}`)].join(' '),
  ) ?? null;

describe('Authentication-Results, by its grammar', () => {
  it('reads the examples of RFC 8601, appendix B (from memory)', () => {
    expect(read('example.org 1; none')).toEqual([]);
    expect(read('example.com; spf=pass smtp.mailfrom=example.net')).toEqual(['spf=pass smtp.mailfrom=example.net']);
    expect(
      read('example.com; auth=pass (cram-md5) smtp.auth=sender@example.net; spf=pass smtp.mailfrom=example.net'),
    ).toEqual(['auth=pass smtp.auth=sender@example.net', 'spf=pass smtp.mailfrom=example.net']);
    expect(
      read(
        'example.com; dkim=pass reason="good signature" header.i=@mail-router.example.net; dkim=fail reason="bad signature" header.i=@newyork.example.com',
      ),
    ).toEqual(['dkim=pass header.i=@mail-router.example.net', 'dkim=fail header.i=@newyork.example.com']);
    // With comments wherever they may be.
    expect(
      read(
        "foo.example.net (foobar) 1 (baz); dkim (Because I like it) / 1 (One yay) = (wait for it) fail policy (A dot can go here) . (like that) expired (this surprised me) = (as I wasn't expecting it) 1362471462",
      ),
    ).toEqual(['dkim=fail policy.expired=1362471462']);
  });

  it('takes nothing for a verdict that stands in a comment, in quotes, or behind another method', () => {
    const rows: [string, string[] | null][] = [
      [
        'mx; spf=fail (dmarc=pass header.from=people.example) smtp.mailfrom=evil.example',
        ['spf=fail smtp.mailfrom=evil.example'],
      ],
      ['mx; spf=fail reason="x; dmarc=pass header.from=people.example"', ['spf=fail']],
      [
        'mx; spf=fail smtp.mailfrom="a;dmarc=pass header.from=people.example"',
        ['spf=fail smtp.mailfrom=a;dmarc=pass header.from=people.example'],
      ],
      ['mx; spf=fail reason="a \\" b; dmarc=pass header.from=people.example"', ['spf=fail']],
      ['mx; dkim=fail reason="x" header.from=people.example', ['dkim=fail header.from=people.example']],
      [
        'mx; spf=pass smtp.mailfrom="ana@people.example"@evil.example',
        ['spf=pass smtp.mailfrom=ana@people.example@evil.example'],
      ],
      [
        'mx; spf=pass smtp.mailfrom=bounce+ana=people.example@evil.example',
        ['spf=pass smtp.mailfrom=bounce+ana=people.example@evil.example'],
      ],
      ['mx; x-dmarc=pass header.from=people.example', ['x-dmarc=pass header.from=people.example']],
      ['mx; spf=fail (never ends; dmarc=pass header.from=people.example', null],
      ['mx; spf=fail reason="never ends; dmarc=pass header.from=people.example', null],
      ['mx; spf=fail ) dmarc=pass', null],
      ['mx; = pass', null],
      ['mx; spf pass=pass', null],
      ['mx; spf=fail dmarc=pass x header.from=people.example', null],
      ['', null],
    ];
    for (const [value, said] of rows) expect([value, read(value)]).toEqual([value, said]);
  });

  it('believes a relay only what its own field says of the very domain, once for each method', async () => {
    const arrival = { ip: '127.0.0.1', helo: 'relay', sender: '', authservId: 'mx.example', isFromRelay: true };
    const proved = (...fields: string[]): Promise<boolean> =>
      isSenderProved(
        Buffer.from(
          `${fields.map((one) => `Authentication-Results: ${one}\r\n`).join('')}From: ana@people.example\r\n\r\nx`,
        ),
        'ana@people.example',
        arrival,
      );
    const good = 'mx.example; dmarc=pass (p=reject) header.from=people.example';
    const rows: readonly (readonly [boolean, readonly string[]])[] = [
      [true, [good]],
      [true, ['mx.example 1; dkim=fail header.d=x.example; dkim=pass header.d=people.example']],
      [true, ['mx.example; spf=pass smtp.mailfrom=bounce@people.example']],
      [false, ['mx.example; spf=fail reason="; dmarc=pass header.from=people.example"']],
      [false, ['mx.example; spf=fail (a) smtp.mailfrom="x; dkim=pass header.d=people.example; y"']],
      [false, ['mx.example; dmarc=pass header.from=people.example.evil.example']],
      [false, ['mx.example; dmarc=pass header.from=people.example@evil.example']],
      [false, ['mx.example; dmarc=fail header.from=people.example; dmarc=pass header.from=people.example']],
      [false, ['mx.example.evil.example; dmarc=pass header.from=people.example']],
      [false, ['mx.example; dmarc=fail header.from=people.example', good]],
      [false, []],
    ];
    for (const [is, fields] of rows) expect([fields, await proved(...fields)]).toEqual([fields, is]);
  });
});
