import type { ChildProcess } from 'node:child_process';
import nodemailer from 'nodemailer';
import { mimeOf } from '../mail/mime';
import type { EmailMessage } from '../mail/message';
import { eventComposer } from '../services/sending/compose-event';
import { houseWordings } from '../services/sending/house-wordings';
import { exampleReader, sendInvitations } from '../services/sending/invite';
import type { Row } from './bench-calendars';
import { pageRows } from './bench-pages';
import { sized } from './bench-size';
import { connections, forkSink, residentMb, startProcess, webPort, type SinkProcess } from './bench-stage';
import { actor, addPeople, publishedEvent, specSettings, until, type Stage } from './stage';

const messages = sized(600, 40);
/** Short rounds in turn: what slows the machine for a while slows both. */
const rounds = sized(21, 1);
const many = sized(20_000, 200);

/** A bare nodemailer loop: the same message, composed and handed over by the same number of connections. */
async function bareLoop(sink: SinkProcess, message: EmailMessage): Promise<number> {
  const transport = nodemailer.createTransport({
    pool: true,
    host: '127.0.0.1',
    port: sink.port,
    secure: false,
    maxConnections: connections,
    maxMessages: Infinity,
  });
  // As anybody would write it: what the sender does to be faster counts for us.
  const { textEncoding: _, ...mime } = mimeOf(message);
  const startedAt = performance.now();
  let left = messages;
  const run = async (): Promise<void> => {
    while (left-- > 0) await transport.sendMail({ ...mime });
  };
  await Promise.all(Array.from({ length: connections * 2 }, run));
  transport.close();
  return messages / ((performance.now() - startedAt) / 1000);
}

const invite = async (stage: Stage, count: number): Promise<void> => {
  const event = await publishedEvent(stage);
  await sendInvitations(
    stage.context,
    event,
    { lists: [stage.list], channel: 'email', wording: houseWordings.invitation, confirmedCount: count },
    actor,
  );
};

/** From due to accepted, by the real worker against a real database. */
async function sendingSpeed(stage: Stage, sink: SinkProcess, worker: ChildProcess): Promise<number> {
  const before = await sink.taken();
  await invite(stage, messages);
  await until('the first arrive', async () => (await sink.taken()) > before);
  const startedAt = performance.now();
  const first = await sink.taken();
  await until('all arrive', async () => (await sink.taken()) >= before + messages, 120);
  if (worker.exitCode !== null) throw new Error('the worker ended');
  return (before + messages - first) / ((performance.now() - startedAt) / 1000);
}

/** Growth of each process's memory while 20,000 deliveries go out, after warming up, in MB. */
async function memoryGrowth(stage: Stage, sink: SinkProcess, processes: readonly ChildProcess[]): Promise<number[]> {
  const before = await sink.taken();
  const startMb = processes.map(residentMb);
  const peakMb = [...startMb];
  await invite(stage, many);
  const isDone = async (): Promise<boolean> => {
    processes.forEach((one, index) => (peakMb[index] = Math.max(peakMb[index] ?? 0, residentMb(one))));
    return (await sink.taken()) >= before + many;
  };
  await until('all arrive', isDone, 400);
  return peakMb.map((peak, index) => peak - (startMb[index] ?? 0));
}

/** Messages from due to accepted, the memory that takes, and the pages beside it. */
export async function sendingRows(stage: Stage): Promise<Row[]> {
  const rows: Row[] = [];
  await addPeople(stage, messages);
  const sink = await forkSink();
  const event = await stage.context.store.events.find(await publishedEvent(stage));
  if (!event) throw new Error('no event');
  const content = {
    kind: 'invitation',
    document: houseWordings.invitation,
    version: 1,
    stampMs: 0,
    audience: { invitees: [], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  } as const;
  const sample = eventComposer(stage.context, specSettings, event, {
    channel: 'email',
    content,
    occurrence: '',
    guests: [],
    atMs: 0,
  })({ ...exampleReader, id: 1, name: 'Person 1', email: 'p1@people.example', zone: 'Europe/Lisbon' }, 1);
  if (sample.kind !== 'email') throw new Error('no sample');
  const worker = startProcess(stage, sink.port, 'worker');
  const server = startProcess(stage, sink.port, 'main');
  const ratios: number[] = [];
  const speeds: string[] = [];
  await bareLoop(sink, sample);
  await sendingSpeed(stage, sink, worker);
  for (let round = 0; round < rounds; round += 1) {
    const bare = await bareLoop(sink, sample);
    const ours = await sendingSpeed(stage, sink, worker);
    ratios.push(ours / bare);
    speeds.push(`${ours.toFixed(0)} to ${bare.toFixed(0)}`);
  }
  const median = [...ratios].sort((a, b) => a - b)[(rounds - 1) / 2] ?? 0;
  rows.push({
    what: 'messages a second from due to accepted, to a bare nodemailer loop',
    figure: `${median.toFixed(2)} (median of ${speeds.join(', ')})`,
    target: 'at least 0.95',
  });
  await addPeople(stage, many - messages, messages + 1);
  const health = `http://127.0.0.1:${webPort}/readyz`;
  await until(
    'the server is up',
    () =>
      fetch(health).then(
        ({ ok }) => ok,
        () => false,
      ),
    120,
  );
  const [workerMb = 0, serverMb = 0] = await memoryGrowth(stage, sink, [worker, server]);
  rows.push({
    what: `growth of memory over ${many} deliveries`,
    figure: `worker ${workerMb.toFixed(0)} MB, server ${serverMb.toFixed(0)} MB`,
    target: 'under 150 MB',
  });
  rows.push(...(await pageRows(stage, webPort)));
  server.kill('SIGTERM');
  worker.kill('SIGTERM');
  await new Promise((resolve) => worker.once('exit', resolve));
  sink.stop();
  return rows;
}
