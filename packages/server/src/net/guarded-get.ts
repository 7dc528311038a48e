import { lookup, type LookupAddress } from 'node:dns';
import { request as httpRequest, type IncomingMessage } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { BlockList, isIP, type LookupFunction } from 'node:net';

export interface GuardOptions {
  /** Inside addresses may be asked too. */
  readonly allowPrivate: boolean;
  readonly headers?: Readonly<Record<string, string>>;
  /** For all of it, wherever it leads. */
  readonly withinMs?: number;
}

const defaultWithinMs = 15_000;
const mostRedirects = 4;

/** Addresses inside a house or a machine: nobody may make this server ask them (ASVS 5.2.6, no SSRF). */
const inside = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 3],
] as const)
  inside.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  // Also v4 in old dress (RFC 4291 §2.5.5.1), and what 6to4 and local gateways lead to.
  ['::', 96],
  ['2002::', 16],
  ['64:ff9b:1::', 48],
  ['fec0::', 10],
  // Gateways to v4, so also to inside addresses (RFC 6052 §2.1).
  ['64:ff9b::', 96],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  inside.addSubnet(net, bits, 'ipv6');

/** Is this an address of the inside? A v4 address dressed as v6 is what it hides. */
export function isInside(address: string): boolean {
  const v4 = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1] ?? address;
  return isIP(v4) === 4 ? inside.check(v4, 'ipv4') : inside.check(v4, 'ipv6');
}

/** Why an address was not asked, or did not answer, in words for people. */
export class NoAnswer extends Error {}

/**
 * Asks an address that somebody typed, and follows where it leads. The name is looked up once and the connection made to the
 * very address that was judged, so that a name cannot change its mind in between.
 * @returns its answer, whose body is to be read or thrown away
 * @throws NoAnswer
 */
export async function guardedGet(address: string, options: GuardOptions): Promise<IncomingMessage> {
  const deadline = AbortSignal.timeout(options.withinMs ?? defaultWithinMs);
  let url = address.replace(/^webcals?:/i, 'https:');
  for (let hops = 0; hops <= mostRedirects; hops += 1) {
    if (!URL.canParse(url) || !/^https?:$/.test(new URL(url).protocol))
      throw new NoAnswer('The address must begin with https://, http:// or webcal://.');
    const answer = await ask(new URL(url), options, deadline).catch((error: unknown) => {
      throw error instanceof NoAnswer ? error : new NoAnswer(reasonOf(error, options));
    });
    const { statusCode = 0, headers } = answer;
    if (![301, 302, 303, 307, 308].includes(statusCode) || !headers.location) return answer;
    answer.destroy();
    if (!URL.canParse(headers.location, url))
      throw new NoAnswer('The address leads on to something that is no address.');
    url = new URL(headers.location, url).href;
  }
  throw new NoAnswer('The address leads on too many times.');
}

/**
 * Hands something to an address that somebody typed, judged in the same way. It is followed nowhere: what was meant for one is
 * not handed to another.
 * @throws NoAnswer
 */
export function guardedPost(address: string, body: string, options: GuardOptions): Promise<IncomingMessage> {
  if (!URL.canParse(address) || !/^https?:$/.test(new URL(address).protocol))
    return Promise.reject(new NoAnswer('The address must begin with https:// or http://.'));
  const deadline = AbortSignal.timeout(options.withinMs ?? defaultWithinMs);
  return ask(new URL(address), options, deadline, body).catch((error: unknown) => {
    throw error instanceof NoAnswer ? error : new NoAnswer(reasonOf(error, options));
  });
}

function ask(
  url: URL,
  { headers, allowPrivate }: GuardOptions,
  signal: AbortSignal,
  body?: string,
): Promise<IncomingMessage> {
  const host = url.hostname.replace(/^\[|\]$/g, '');
  if (!allowPrivate && isIP(host) && isInside(host)) return Promise.reject(new NoAnswer(insideReason));
  return new Promise((resolve, reject) => {
    const send = url.protocol === 'https:' ? httpsRequest : httpRequest;
    const request = send(
      url,
      {
        method: body === undefined ? 'GET' : 'POST',
        headers: { 'user-agent': 'Convite', ...headers },
        lookup: guardedLookup(allowPrivate),
        signal,
      },
      resolve,
    );
    request.on('error', reject);
    request.end(body);
  });
}

const insideReason = 'The address lies inside this house’s own network; an owner can allow that in Settings.';

function guardedLookup(allowPrivate: boolean): LookupFunction {
  return (hostname, options, callback) => {
    lookup(hostname, { ...options, all: true }, (error, addresses: LookupAddress[]) => {
      const allowed = addresses?.filter(({ address }) => allowPrivate || !isInside(address)) ?? [];
      const [first] = allowed;
      if (error) callback(error, []);
      else if (!first) callback(Object.assign(new Error(insideReason), { code: 'EINSIDE' }), []);
      else if (options.all) callback(null, allowed);
      else callback(null, first.address, first.family);
    });
  };
}

/** In words for people. */
export function reasonOf(error: unknown, { withinMs = defaultWithinMs }: Pick<GuardOptions, 'withinMs'> = {}): string {
  if (error instanceof NoAnswer) return error.message;
  if (!(error instanceof Error)) return String(error);
  const code = 'code' in error ? String(error.code) : '';
  if (code === 'EINSIDE') return insideReason;
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN') return 'There is no such host.';
  if (code === 'ECONNREFUSED') return 'Nobody answers at that address.';
  if (error.name === 'TimeoutError') return `No answer within ${withinMs / 1000} seconds.`;
  return error.message;
}
