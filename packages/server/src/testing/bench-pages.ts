import { Agent, request } from 'node:http';
import type { Row } from './bench-calendars';
import { sized } from './bench-size';
import { forkProgram } from './bench-stage';
import { publishedEvent, type Stage } from './stage';

const connections = 32;
const asked = sized(4000, 100);
const rounds = sized(5, 1);

/** One GET over a connection that is kept. Each comes from an address of its own, as far as the server is told. */
function get(agent: Agent, port: number, path: string, from: number): Promise<string> {
  return new Promise((resolve, reject) => {
    const headers = { 'x-forwarded-for': `198.51.${Math.floor(from / 250) % 250}.${from % 250}` };
    request({ agent, port, path, host: '127.0.0.1', headers }, (response) => {
      let text = '';
      response.setEncoding('utf8');
      response.on('data', (piece: string) => (text += piece));
      response.on('end', () =>
        response.statusCode === 200 ? resolve(text) : reject(new Error(`${path}: ${response.statusCode}`)),
      );
    })
      .on('error', reject)
      .end();
  });
}

/** Requests a second, asked over many connections at once. */
async function speed(port: number, path: string): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: connections });
  const startedAt = performance.now();
  let left = asked;
  const ask = async (): Promise<void> => {
    while (left-- > 0) await get(agent, port, path, left);
  };
  await Promise.all(Array.from({ length: connections }, ask));
  agent.destroy();
  return asked / ((performance.now() - startedAt) / 1000);
}

/** The pages that everybody may open, beside a bare Express that answers with the same text. */
export async function pageRows(stage: Stage, port: number): Promise<Row[]> {
  const event = await stage.context.store.events.find(
    await publishedEvent(stage, {
      series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] },
      topics: ['moon'],
    }),
  );
  if (!event) throw new Error('no event');
  const pages = [
    ['event pages', `/e/${event.publicKey}`],
    ['feeds of a series', `/feed/event/${event.publicKey}.ics`],
    ['calendar files', `/e/${event.publicKey}/event.ics`],
  ] as const;
  const rows: Row[] = [];
  for (const [what, path] of pages) rows.push(await besideBare(what, port, path));
  return rows;
}

async function besideBare(what: string, port: number, path: string): Promise<Row> {
  const agent = new Agent();
  const text = await get(agent, port, path, 0);
  const bare = forkProgram('bench-express');
  const barePort = await new Promise<number>((resolve) => {
    bare.once('message', (message) =>
      resolve(Number(typeof message === 'object' && message !== null ? Reflect.get(message, 'port') : 0)),
    );
    bare.send(text);
  });
  const ratios: number[] = [];
  const speeds: string[] = [];
  await speed(barePort, path);
  await speed(port, path);
  for (let round = 0; round < rounds; round += 1) {
    const most = await speed(barePort, path);
    const ours = await speed(port, path);
    ratios.push(ours / most);
    speeds.push(`${ours.toFixed(0)} to ${most.toFixed(0)}`);
  }
  bare.kill();
  const median = [...ratios].sort((a, b) => a - b)[(rounds - 1) / 2] ?? 0;
  return {
    what: `${what} a second, to a bare Express with the same text`,
    figure: `${median.toFixed(2)} (median of ${speeds.join(', ')})`,
    target: 'at least 0.8',
  };
}
