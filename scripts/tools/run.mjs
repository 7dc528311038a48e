// Runs a command to its end, or to its limit: a program that hangs is ended with all that it started.
import { spawn } from 'node:child_process';
import { root } from './machine.mjs';

/**
 * @param seconds the longest it may take
 * @param show is given what it prints, as it comes
 * @returns its exit code (1 when it could not start or was ended), all it printed, and whether the limit ended it
 */
export function runWithin(seconds, command, args, { cwd = root, env = {}, show = () => {} } = {}) {
  return new Promise((resolve) => {
    // A group of its own, so that the limit reaches its children too.
    const child = spawn(command, args, {
      cwd,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: true,
    });
    let text = '';
    let isLate = false;
    for (const stream of [child.stdout, child.stderr])
      stream.setEncoding('utf8').on('data', (chunk) => {
        text += chunk;
        show(chunk);
      });
    const endAll = () => {
      try {
        process.kill(-child.pid, 'SIGKILL');
      } catch {
        // It has ended already.
      }
    };
    const timer = setTimeout(() => {
      isLate = true;
      show(`\n${command} ${args.join(' ')}: not done within ${seconds} s, ended.\n`);
      endAll();
    }, seconds * 1000);
    const onSignal = () => endAll();
    process.once('SIGTERM', onSignal).once('SIGINT', onSignal);
    const settle = (code) => {
      clearTimeout(timer);
      process.off('SIGTERM', onSignal).off('SIGINT', onSignal);
      resolve({ code, text, isLate });
    };
    child.on('error', (error) => {
      text += String(error);
      settle(1);
    });
    // Not 'close' alone: what it started may outlive it and hold its output open.
    child.on('exit', (code) => {
      const leave = setTimeout(() => (endAll(), settle(code ?? 1)), 2000);
      child.once('close', () => (clearTimeout(leave), settle(code ?? 1)));
    });
  });
}
