import type { IncomingMessage } from 'node:http';
import { mostCalendarOctets } from '@convite/contract';
import { guardedGet, reasonOf } from './guarded-get';

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

/** Fetches a calendar by conditional GET (RFC 9110 §13.1), `webcal:` meaning https. */
export async function fetchCalendar(
  address: string,
  { etag, lastModified, allowPrivate }: FetchOptions,
): Promise<Fetched> {
  const headers = {
    accept: 'text/calendar, */*;q=0.1',
    ...(etag && { 'if-none-match': etag }),
    ...(lastModified && { 'if-modified-since': lastModified }),
  };
  try {
    return await receive(await guardedGet(address, { allowPrivate, headers }));
  } catch (error) {
    return failed(reasonOf(error));
  }
}

const failed = (reason: string): Fetched => ({ kind: 'failed', reason });

async function receive(response: IncomingMessage): Promise<Fetched> {
  const { statusCode = 0, headers } = response;
  if (statusCode === 304) {
    response.resume();
    return { kind: 'unchanged' };
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
