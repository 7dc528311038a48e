// Child processes that are started together and ended in reverse order.
import { spawn } from 'node:child_process';
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { giveUp, root } from './machine.mjs';

const stopWithinMs = 20_000;

/** @param pidFile remembers what runs, so that a start after a crash can clear up */
export function openStage(pidFile) {
  const running = [];
  const remember = () =>
    writeFileSync(pidFile, JSON.stringify({ owner: process.pid, pids: running.map(({ child }) => child.pid) }));
  mkdirSync(dirname(pidFile), { recursive: true });
  clearUp(pidFile);
  return {
    /** Starts a process in its own group, so that Ctrl+C reaches only us and the order of the end is ours. */
    start(name, command, args, { env = {}, logFile } = {}) {
      const log = logFile ? openSync(logFile, 'a') : 'ignore';
      const child = spawn(command, args, {
        cwd: root,
        env: { ...process.env, ...env },
        stdio: ['ignore', log, log],
        detached: true,
      });
      if (logFile) closeSync(log);
      const one = { name, child, hasEnded: false };
      child.on('error', () => (one.hasEnded = true));
      child.on('exit', (code, signal) => {
        one.hasEnded = true;
        if (!one.isStopping) one.onCrash?.(code ?? signal);
      });
      running.push(one);
      remember();
      return one;
    },
    async stopAll() {
      for (const one of [...running].reverse()) await stop(one);
      running.length = 0;
      remember();
    },
    stop,
  };
}

export async function stop(one, signal = 'SIGTERM') {
  one.isStopping = true;
  if (one.hasEnded) return;
  const ended = new Promise((resolve) => one.child.once('exit', resolve));
  one.child.kill(signal);
  const timer = setTimeout(() => one.child.kill('SIGKILL'), stopWithinMs);
  await ended;
  clearTimeout(timer);
}

/** However this process ends, by an error too, what it started ends with it. */
export function endWith(stage) {
  const end = (code) => void stage.stopAll().finally(() => process.exit(code));
  process.once('SIGINT', () => end(130)).once('SIGTERM', () => end(143));
  for (const event of ['uncaughtException', 'unhandledRejection'])
    process.once(event, (error) => {
      console.error(error);
      end(1);
    });
}

/**
 * Ends what an earlier start left behind when it was killed: only processes that still look like ours, and only when
 * the start they belong to is gone.
 */
function clearUp(pidFile) {
  if (!existsSync(pidFile)) return;
  const { owner = 0, pids = [] } = JSON.parse(readFileSync(pidFile, 'utf8'));
  if (owner !== process.pid && pids.length && commandOf(owner).includes('scripts/'))
    giveUp(
      `it runs from ${dirname(pidFile)} already, as process ${owner}. Stop it there with Ctrl+C, or choose another folder and port, as in: CONVITE_DATA=/tmp/second CONVITE_PORT=5100 npm start`,
    );
  for (const pid of pids) {
    const command = commandOf(pid);
    if (!command.includes(root) && !command.includes(dirname(pidFile)) && !command.includes('dist/server')) continue;
    process.kill(pid, 'SIGTERM');
    for (let tries = 0; tries < 100 && existsSync(`/proc/${pid}`); tries += 1)
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 100);
  }
}

/** The command line of a process; empty when it has ended. */
function commandOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    return '';
  }
}

/** Waits until an address answers with 200. */
export async function waitFor(url, one, seconds = 60) {
  for (let tries = 0; tries < seconds * 10; tries += 1) {
    if (one.hasEnded) throw new Error(`${one.name} ended before it was up`);
    const isUp = await fetch(url).then(
      (response) => response.ok,
      () => false,
    );
    if (isUp) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`${one.name} does not answer at ${url}`);
}

export const logIn = (folder, name) => join(folder, 'log', `${name}.log`);
