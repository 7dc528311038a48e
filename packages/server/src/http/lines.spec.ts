import { createServer, get, type Server } from 'node:http';
import express from 'express';
import { until } from '../testing/stage';
import { sendLines } from './lines';

describe('an answer that comes line by line', () => {
  let server: Server;
  let port = 0;
  let made = 0;
  let isEnded = false;
  /** Work in pieces that never ends by itself. */
  async function* endless(): AsyncGenerator<{ piece: number }> {
    try {
      for (;;) {
        await new Promise((resolve) => setTimeout(resolve, 5));
        made += 1;
        yield { piece: made };
      }
    } finally {
      isEnded = true;
    }
  }
  beforeAll(async () => {
    const app = express();
    app.get('/', (_request, response) => sendLines(response, endless()));
    server = createServer(app);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = server.address();
    port = typeof address === 'object' && address ? address.port : 0;
  });
  afterAll(() => {
    server.closeAllConnections();
    server.close();
  });

  it('ends the work behind it when its reader goes away in the middle', async () => {
    let heard = '';
    const request = get({ host: '127.0.0.1', port }, (response) => {
      response.setEncoding('utf8');
      response.on('data', (text: string) => (heard += text));
      response.on('error', () => undefined);
    });
    request.on('error', () => undefined);
    await until('two lines came', () => heard.split('\n').length > 2);
    expect(heard).toMatch(/^\{"piece":1\}\n\{"piece":2\}\n/);
    expect(isEnded).toBeFalse();
    request.destroy();
    await until('the work has ended', () => isEnded, 5);
    const then = made;
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(made).toBe(then);
  });
});
