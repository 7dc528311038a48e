import { createServer, type Server } from 'node:http';
import { fetchCalendar } from './fetch-calendar';
import { guardedGet, guardedPost, isInside, NoAnswer } from './guarded-get';

/** Ranges that are not of the internet, by IANA's registries of special-purpose addresses (from memory), and dresses of them. */
const insideAddresses = [
  ...['0.0.0.0', '0.1.2.3', '10.0.0.1', '10.255.255.255', '100.64.0.1', '100.127.255.255', '127.0.0.1', '127.1.2.3'],
  ...['169.254.169.254', '172.16.0.1', '172.31.255.255', '192.0.0.8', '192.168.0.1', '192.168.255.255', '198.18.0.1'],
  ...['198.19.255.255', '224.0.0.1', '239.1.1.1', '240.0.0.1', '255.255.255.255'],
  ...['::', '::1', '::127.0.0.1', '::ffff:127.0.0.1', '::ffff:10.0.0.1', '::ffff:a00:1', '64:ff9b::a00:1'],
  ...['64:ff9b:1::1', 'fc00::1', 'fd12:3456::1', 'fe80::1', 'fec0::1', 'ff02::1', '2002:a00:1::1'],
];
const outsideAddresses = ['8.8.8.8', '93.184.216.34', '100.128.0.1', '172.32.0.1', '192.169.0.1', '2606:4700::1'];
/** How browsers and libraries read the same machine. */
const spellings = [
  ...['127.0.0.1', '127.1', '127.0.1', '0177.0.0.1', '0x7f.0.0.1', '0x7f000001', '2130706433', '017700000001', '0'],
  ...['0.0.0.0', 'localhost', 'LOCALHOST', 'localhost.', '[::1]', '[::]', '[::ffff:127.0.0.1]', '[::ffff:7f00:1]'],
  ...['[0:0:0:0:0:0:0:1]', '[::127.0.0.1]', 'user:pass@127.0.0.1', '127。0。0。1', '①②⑦.0.0.1', '%31%32%37.0.0.1'],
];
const schemes = ['file:///etc/passwd', 'ftp://x.example/', 'gopher://x.example/', 'data:text/plain,x', 'javascript:1'];

describe('an address that somebody typed', () => {
  let server: Server;
  let port: number;
  let asked = 0;
  beforeAll(async () => {
    server = createServer((request, response) => {
      asked += 1;
      // From outside it would lead in.
      if (request.url === '/in') response.writeHead(302, { location: `http://127.0.0.1:${port}/` }).end();
      else response.end('secret');
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = server.address();
    port = typeof address === 'object' && address ? address.port : 0;
  });
  afterAll(() => new Promise<unknown>((resolve) => server.close(resolve)));

  it('is known as inside in each of its ranges, and as outside beyond them', () => {
    for (const address of insideAddresses) expect([address, isInside(address)]).toEqual([address, true]);
    for (const address of outsideAddresses) expect([address, isInside(address)]).toEqual([address, false]);
  });

  it('makes nobody ask the inside, however it is spelled, to get, to post, or as a calendar', async () => {
    asked = 0;
    for (const host of spellings) {
      const url = `http://${host}:${port}/`;
      for (const ask of [
        () => guardedGet(url, { allowPrivate: false, withinMs: 2000 }),
        () => guardedPost(url, '{}', { allowPrivate: false, withinMs: 2000 }),
      ])
        await expectAsync(ask()).withContext(url).toBeRejectedWith(jasmine.any(NoAnswer));
      const fetched = await fetchCalendar(url, { etag: '', lastModified: '', allowPrivate: false });
      expect([url, fetched.kind]).toEqual([url, 'failed']);
    }
    for (const url of schemes)
      await expectAsync(guardedGet(url, { allowPrivate: true })).toBeRejectedWith(jasmine.any(NoAnswer));
    expect(asked).toBe(0);
    // The server is there, and answers who may ask it.
    (await guardedGet(`http://127.0.0.1:${port}/in`, { allowPrivate: true })).destroy();
    expect(asked).toBe(2);
  });
});
