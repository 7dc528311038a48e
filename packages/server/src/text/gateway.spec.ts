import { createServer, type IncomingHttpHeaders, type Server } from 'node:http';
import type { TextMessage } from '../mail/message';
import { textGateway } from './gateway';

const message: TextMessage = {
  kind: 'text',
  reference: 'd17',
  from: 'Serra',
  to: '+447700900001',
  date: new Date('2031-06-18T18:30:00Z'),
  text: 'Até já',
};

describe('the end at a text gateway', () => {
  let server: Server;
  let url: string;
  let answer = { status: 202, body: '{}' };
  const asked: { path: string; headers: IncomingHttpHeaders; body: unknown }[] = [];

  beforeEach(async () => {
    asked.length = 0;
    server = createServer((request, response) => {
      const chunks: Buffer[] = [];
      request.on('data', (chunk: Buffer) => chunks.push(chunk));
      request.on('end', () => {
        const body: unknown = JSON.parse(Buffer.concat(chunks).toString());
        asked.push({ path: `${request.method} ${request.url}`, headers: request.headers, body });
        response.writeHead(answer.status).end(answer.body);
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = server.address();
    url = `http://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}`;
  });
  afterEach(() => {
    server.closeAllConnections();
    server.close();
  });
  const send = (key = 'k1') => textGateway({ url, key, callbackUrl: 'http://convite.example/gateway/x' }).send(message);

  it('posts one message with a key that makes a repeat harmless, and with where to answer', async () => {
    answer = { status: 202, body: '{}' };
    expect(await send()).toBeNull();
    expect(asked[0]?.path).toBe('POST /messages');
    expect(asked[0]?.headers['idempotency-key']).toBe('d17');
    expect(asked[0]?.headers.authorization).toBe('Bearer k1');
    expect(asked[0]?.body).toEqual({
      reference: 'd17',
      from: 'Serra',
      to: '+447700900001',
      text: 'Até já',
      sentAt: '2031-06-18T18:30:00.000Z',
      callbackUrl: 'http://convite.example/gateway/x',
    });
    await send('');
    expect(asked[1]?.headers.authorization).toBeUndefined();
  });

  for (const [status, kind] of [
    [429, 'transient'],
    [503, 'transient'],
    [400, 'permanent'],
    [401, 'permanent'],
  ] as const)
    it(`takes ${status} as ${kind} (RFC 9110 §15), with the gateway’s words`, async () => {
      answer = { status, body: 'too many today' };
      expect(await send()).toEqual(jasmine.objectContaining({ kind, answer: `${status} too many today` }));
    });

  it('knows nobody there from a refusal, so that no attempt is spent', async () => {
    server.close();
    server.closeAllConnections();
    expect(await send()).toEqual(jasmine.objectContaining({ kind: 'unreachable' }));
  });
});
