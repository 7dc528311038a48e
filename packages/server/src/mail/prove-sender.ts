import { authenticate, type DNSResolver } from 'mailauth';
import { readAuthenticationResults } from './authentication-results';

/** How a message reached us. */
export interface Arrival {
  readonly ip: string;
  readonly helo: string;
  /** Envelope sender. */
  readonly sender: string;
  /** Name by which a relay that we trust signs its verdicts (RFC 8601 §2.2); empty where there is none. */
  readonly authservId: string;
  /** The peer is such a relay. */
  readonly isFromRelay: boolean;
}

/**
 * Is the address in From proved? From a relay that we trust its own verdict counts (RFC 8601), and only the topmost, which
 * is its own; otherwise SPF (RFC 7208) or DKIM (RFC 6376) must pass in line with From, as DMARC asks (RFC 7489 §3.1).
 * @param resolver asks the DNS; the machine's own when left out
 */
export async function isSenderProved(
  octets: Uint8Array,
  fromAddress: string,
  arrival: Arrival,
  resolver?: DNSResolver,
): Promise<boolean> {
  const domain = fromAddress.split('@')[1] ?? '';
  if (!domain) return false;
  if (arrival.isFromRelay) return relaySays(octets, domain, arrival.authservId);
  const { dkim, spf, dmarc } = await authenticate(Buffer.from(octets), {
    ip: arrival.ip,
    helo: arrival.helo,
    sender: arrival.sender,
    disableArc: true,
    disableBimi: true,
    ...(resolver && { resolver }),
  });
  if (dmarc && dmarc.status.result === 'pass') return true;
  if (dmarc && dmarc.status.result === 'fail') return false;
  const isSigned = dkim?.results.some(({ status }) => status.result === 'pass' && status.aligned);
  return Boolean(isSigned) || (spf && spf.status.result === 'pass' && arrival.sender.split('@')[1] === domain) || false;
}

/**
 * The topmost Authentication-Results of that name: the relay puts its own on top, and removes those of its name that came along
 * (RFC 8601 §5). A method that stands there twice says nothing; of DKIM each signature has a verdict of its own.
 */
function relaySays(octets: Uint8Array, domain: string, authservId: string): boolean {
  if (!authservId) return false;
  const head =
    Buffer.from(octets.subarray(0, 64_000))
      .toString('latin1')
      .split(/\r?\n\r?\n/, 1)[0] ?? '';
  const unfolded = head.replace(/\r?\n[ \t]+/g, ' ');
  const fields = unfolded.split(/\r?\n/).filter((line) => /^authentication-results[ \t]*:/i.test(line));
  const own = fields
    .map((line) => readAuthenticationResults(line.slice(line.indexOf(':') + 1)))
    .find((read) => read?.authservId.toLowerCase() === authservId.toLowerCase());
  const passed = (method: string, property: string): boolean => {
    const verdicts = (own?.results ?? []).filter((one) => one.method === method);
    if (verdicts.length > 1 && method !== 'dkim') return false;
    return verdicts.some(
      ({ result, properties }) =>
        result === 'pass' && (properties.get(property) ?? '').split('@').at(-1)?.toLowerCase() === domain.toLowerCase(),
    );
  };
  return passed('dmarc', 'header.from') || passed('dkim', 'header.d') || passed('spf', 'smtp.mailfrom');
}
