import { lookup, type LookupAddress } from 'node:dns';
import { request as httpRequest, type IncomingMessage } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { BlockList, isIP, type LookupFunction } from 'node:net';
import { mostCalendarOctets } from '@convite/contract';

/** What an address answered, or why it was not asked or understood, in words for people. */
export type Fetched =
  | {
      readonly kind: 'calendar';
      readonly file: Uint8Array<ArrayBuffer>;
      readonly etag: string;
      readonly lastModified: string;
    }
  | { readonly kind: 'unchanged' }
  | { readonly kind: 'failed'; readonly reason: string };

export interface FetchOptions {
  readonly etag: string;
  readonly lastModified: string;
  /** Loopback, private and link-local addresses may be asked too. */
  readonly allowPrivate: boolean;
}

const withinMs = 15_000;
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

/**
 * Fetches a calendar by conditional GET (RFC 9110 §13.1), `webcal:` meaning https. The name is looked up once and the
 * connection made to the very address that was judged, so that a name cannot change its mind in between.
 */
export async function fetchCalendar(address: string, options: FetchOptions): Promise<Fetched> {
  let url = address.replace(/^webcals?:/i, 'https:');
  for (let hops = 0; hops <= mostRedirects; hops += 1) {
    if (!URL.canParse(url) || !/^https?:$/.test(new URL(url).protocol))
      return failed('The address must begin with https://, http:// or webcal://.');
    const answer = await ask(new URL(url), options).catch((error: unknown) => failed(reasonOf(error)));
    if (!('redirect' in answer)) return answer;
    if (!URL.canParse(answer.redirect, url)) return failed('The address leads on to something that is no address.');
    url = new URL(answer.redirect, url).href;
  }
  return failed('The address leads on too many times.');
}

const failed = (reason: string): Fetched => ({ kind: 'failed', reason });

function ask(url: URL, { etag, lastModified, allowPrivate }: FetchOptions): Promise<Fetched | { redirect: string }> {
  const host = url.hostname.replace(/^\[|\]$/g, '');
  if (!allowPrivate && isIP(host) && isInside(host)) return Promise.resolve(failed(insideReason));
  return new Promise((resolve, reject) => {
    const headers = {
      accept: 'text/calendar, */*;q=0.1',
      'user-agent': 'Convite',
      ...(etag && { 'if-none-match': etag }),
      ...(lastModified && { 'if-modified-since': lastModified }),
    };
    const send = url.protocol === 'https:' ? httpsRequest : httpRequest;
    const request = send(
      url,
      { headers, lookup: guardedLookup(allowPrivate), signal: AbortSignal.timeout(withinMs) },
      (response) => {
        receive(response).then(resolve, reject);
      },
    );
    request.on('error', reject);
    request.end();
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

async function receive(response: IncomingMessage): Promise<Fetched | { redirect: string }> {
  const { statusCode = 0, headers } = response;
  if (statusCode === 304) {
    response.resume();
    return { kind: 'unchanged' };
  }
  if ([301, 302, 303, 307, 308].includes(statusCode) && headers.location) {
    response.resume();
    return { redirect: headers.location };
  }
  if (statusCode !== 200) {
    response.resume();
    return failed(`The address answered ${statusCode} instead of a calendar.`);
  }
  const chunks: Buffer[] = [];
  let octets = 0;
  for await (const chunk of response) {
    const bytes = Buffer.from(chunk as Buffer);
    octets += bytes.length;
    if (octets > mostCalendarOctets) {
      response.destroy();
      return failed(`The calendar is larger than ${mostCalendarOctets / 1_000_000} MB.`);
    }
    chunks.push(bytes);
  }
  const file = new Uint8Array(octets);
  chunks.reduce((at, chunk) => (file.set(chunk, at), at + chunk.length), 0);
  return { kind: 'calendar', file, etag: headers.etag ?? '', lastModified: headers['last-modified'] ?? '' };
}

function reasonOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  const code = 'code' in error ? String(error.code) : '';
  if (code === 'EINSIDE') return insideReason;
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN') return 'There is no such host.';
  if (code === 'ECONNREFUSED') return 'Nobody answers at that address.';
  if (error.name === 'TimeoutError') return `No answer within ${withinMs / 1000} seconds.`;
  return error.message;
}
