import { createHash, createHmac } from 'node:crypto';

/** What of a request is signed, each with its value. */
export type SignedPart = readonly [name: string, value: string];

export interface SignedBy {
  readonly keyId: string;
  readonly secret: Buffer;
  /** Seconds since 1970. */
  readonly created: number;
}

/** The digest of a body, as RFC 9530 §2 writes it. */
export const contentDigest = (body: string): string =>
  `sha-256=:${createHash('sha256').update(body, 'utf8').digest('base64')}:`;

/** Signs parts of a request by HMAC with SHA-256 (RFC 9421 §3.3.3): its `Signature-Input` and `Signature`, under one label. */
export function signRequest(
  label: string,
  parts: readonly SignedPart[],
  { keyId, secret, created }: SignedBy,
): { readonly 'signature-input': string; readonly signature: string } {
  const names = parts.map(([name]) => `"${name}"`).join(' ');
  const params = `(${names});created=${created};keyid="${keyId}"`;
  // The signature base (RFC 9421 §2.5).
  const base = [...parts.map(([name, value]) => `"${name}": ${value}`), `"@signature-params": ${params}`].join('\n');
  const signature = createHmac('sha256', secret).update(base, 'utf8').digest('base64');
  return { 'signature-input': `${label}=${params}`, signature: `${label}=:${signature}:` };
}
