import { fork, spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import * as z from 'zod';
import { mailDomain, secret, type Stage } from './stage';

export const connections = 6;
export const webPort = 30_000 + (process.pid % 20_000);
const said = z.object({
  port: z.number().optional(),
  taken: z.number().optional(),
  times: z.array(z.number()).optional(),
});

/** A mail server of its own process that takes everything. */
export interface SinkProcess {
  readonly port: number;
  taken(): Promise<number>;
  /** When each came, in epoch milliseconds, since they were asked for last. */
  times(): Promise<number[]>;
  stop(): void;
}

const children = new Set<ChildProcess>();

/** Ends whatever a part of the bench has started and left: where it failed, too. */
export async function endChildren(): Promise<void> {
  await Promise.all(
    [...children].map((child) => {
      if (child.exitCode !== null || child.signalCode !== null) return undefined;
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGKILL');
      return ended;
    }),
  );
  children.clear();
}

/** A program of the bench itself, in a process of its own. */
export function forkProgram(name: 'bench-sink' | 'bench-express'): ChildProcess {
  const child = fork(`packages/server/src/testing/${name}.ts`, { execArgv: ['--import', 'tsx'] });
  children.add(child);
  return child;
}

export async function forkSink(): Promise<SinkProcess> {
  const child = forkProgram('bench-sink');
  const next = (): Promise<z.infer<typeof said>> =>
    new Promise((resolve) => child.once('message', (message) => resolve(said.parse(message))));
  const { port = 0 } = await next();
  return {
    port,
    taken: async () => {
      const answer = next();
      child.send('count');
      return (await answer).taken ?? 0;
    },
    times: async () => {
      const answer = next();
      child.send('times');
      return (await answer).times ?? [];
    },
    stop: () => void child.kill(),
  };
}

/** One of ours as it is built, against the stage's database and that mail server. */
export function startProcess(stage: Stage, smtpPort: number, entry: 'main' | 'worker'): ChildProcess {
  const child = spawn(process.execPath, ['--enable-source-maps', `dist/server/${entry}.mjs`], {
    stdio: 'inherit',
    env: {
      ...process.env,
      DATABASE_URL: stage.databaseUrl,
      PUBLIC_URL: 'http://convite.example',
      SECRET: secret,
      SMTP_URL: `smtp://127.0.0.1:${smtpPort}`,
      MAIL_DOMAIN: mailDomain,
      TEXT_GATEWAY_URL: 'http://127.0.0.1:9',
      SMTP_CONNECTIONS: String(connections),
      PORT: String(webPort),
      TRUST_PROXY: '1',
      INBOUND_PORT: String(webPort + 1),
      LOG_LEVEL: 'warn',
    },
  });
  children.add(child);
  return child;
}

export const residentMb = (child: ChildProcess): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
