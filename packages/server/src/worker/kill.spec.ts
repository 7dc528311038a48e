import { spawn, type ChildProcess } from 'node:child_process';
import { invite } from '../testing/acts';
import { openSink, type Sink } from '../testing/sink';
import { publishedEvent, addPeople, mailDomain, openStage, secret, until, type Stage } from '../testing/stage';

const people = 2000;
const connections = 4;

/** A worker as a process of its own, so that it can be killed as a machine would. */
function startWorkerProcess({ databaseUrl }: Stage, sink: Sink): ChildProcess {
  return spawn(process.execPath, ['--import', 'tsx', 'packages/server/src/worker-main.ts'], {
    stdio: 'ignore',
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      PUBLIC_URL: 'http://convite.example',
      SECRET: secret,
      SMTP_URL: `smtp://127.0.0.1:${sink.port}`,
      MAIL_DOMAIN: mailDomain,
      TEXT_GATEWAY_URL: 'http://127.0.0.1:9',
      SMTP_CONNECTIONS: String(connections),
      LEASE_SECONDS: '2',
      LOG_LEVEL: 'silent',
    },
  });
}

describe('a worker killed in the middle of 2,000 sends', () => {
  let stage: Stage;
  let sink: Sink;
  beforeAll(async () => {
    stage = await openStage();
    sink = await openSink();
    await addPeople(stage, people);
  });
  afterAll(async () => {
    await stage.close();
    await sink.close();
  });

  it('and started again reaches everybody, nobody with two different messages, repeating no more than was in flight', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event, { confirmedCount: people });
    const first = startWorkerProcess(stage, sink);
    await until('a third is sent', () => sink.mails.length > people / 3, 40);
    first.kill('SIGKILL');
    await new Promise((resolve) => first.once('exit', resolve));
    const sentBefore = sink.mails.length;
    expect(sentBefore).toBeLessThan(people);
    const second = startWorkerProcess(stage, sink);
    const isDone = async (): Promise<boolean> =>
      (await stage.context.store.firings.ofEvent(event)).every(({ state }) => state === 'done');
    await until('the firing is done', isDone, 60);
    second.kill('SIGTERM');
    await new Promise((resolve) => second.once('exit', resolve));

    const byPerson = new Map<string, Set<string>>();
    // The random parts of MIME are its boundaries and Date; what people read and the Message-ID must not differ.
    for (const { to, raw } of sink.mails)
      byPerson.set(
        to,
        (byPerson.get(to) ?? new Set()).add(raw.replace(/--_NmP-[\w-]+|boundary="[^"]*"|^Date:.*$/gm, '')),
      );
    expect(byPerson.size).toBe(people);
    expect([...byPerson.values()].filter((different) => different.size > 1).length).toBe(0);
    // In flight: two sends a connection, what is being written down, and what waits for that.
    expect(sink.mails.length - people).toBeLessThanOrEqual(connections * 2 + 80);
    const [firing] = await stage.context.store.firings.ofEvent(event);
    expect([firing?.sent, firing?.failed]).toEqual([people, 0]);
  }, 120_000);
});
