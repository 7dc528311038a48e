import { authenticate, type DNSResolver } from 'mailauth';

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

/** The topmost Authentication-Results of that name. */
function relaySays(octets: Uint8Array, domain: string, authservId: string): boolean {
  if (!authservId) return false;
  const head =
    Buffer.from(octets.subarray(0, 64_000))
      .toString('latin1')
      .split(/\r?\n\r?\n/, 1)[0] ?? '';
  const unfolded = head.replace(/\r?\n[ \t]+/g, ' ');
  const lines = unfolded.split(/\r?\n/).filter((line) => /^authentication-results:/i.test(line));
  const own = lines.find(
    (line) =>
      line
        .slice(line.indexOf(':') + 1)
        .trim()
        .split(/[\s;]/, 1)[0] === authservId,
  );
  if (!own) return false;
  const passed = (method: string, property: string): boolean =>
    own
      .split(';')
      .some(
        (part) =>
          new RegExp(`\\b${method}=pass\\b`, 'i').test(part) &&
          new RegExp(`\\b${property}=@?(?:[^\\s;@]*@)?${escapeForRegExp(domain)}(?=[\\s;]|$)`, 'i').test(part),
      );
  return passed('dmarc', 'header\\.from') || passed('dkim', 'header\\.d') || passed('spf', 'smtp\\.mailfrom');
}

const escapeForRegExp = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
