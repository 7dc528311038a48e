import { connect as connectPlain, type Socket } from 'node:net';
import { connect as connectTls } from 'node:tls';

const probeMs = 5000;

/** Does a mail server greet there? @returns null when it does, else what is wrong, in words */
export function probeSmtp(address: { host: string; port: number; isSecure: boolean; ca?: string | undefined }) {
  const { host, port, isSecure, ca } = address;
  return new Promise<string | null>((resolve) => {
    const socket: Socket = isSecure ? connectTls({ host, port, servername: host, ca }) : connectPlain({ host, port });
    const end = (said: string | null): void => {
      socket.removeAllListeners();
      socket.on('error', () => undefined);
      socket.end('QUIT\r\n');
      socket.destroySoon();
      resolve(said);
    };
    socket.setTimeout(probeMs, () => end(`${host}:${port} does not greet within ${probeMs / 1000} s.`));
    socket.once('error', (error) => end(`${host}:${port}: ${error.message}`));
    socket.once('data', (greeting: Buffer) => {
      const line = greeting.toString('latin1', 0, 200).split(/\r?\n/, 1)[0] ?? '';
      end(line.startsWith('220') ? null : `${host}:${port} greets with “${line}”.`);
    });
    socket.once('end', () => end(`${host}:${port} hangs up.`));
  });
}

/** Does anything answer HTTP there? Any status will do: what is asked is whether somebody is there. */
export async function probeHttp(url: string): Promise<string | null> {
  try {
    const response = await fetch(url, { method: 'HEAD', redirect: 'manual', signal: AbortSignal.timeout(probeMs) });
    await response.body?.cancel();
    return null;
  } catch (error) {
    const cause = error instanceof Error && error.cause instanceof Error ? error.cause.message : String(error);
    return `${new URL(url).host}: ${cause}`;
  }
}
