import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto';

/** Keeps in the database what only this house may read: sealed with a key that is not in the database. */
export interface Seal {
  close(text: string): string;
  /** Null for what was sealed with another secret, or changed since. */
  open(sealed: string): string | null;
}

/** AES-256-GCM under a key of its own, derived from the house's secret. */
export function makeSeal(secret: string): Seal {
  const key = Buffer.from(hkdfSync('sha256', secret, '', 'convite: second factors', 32));
  return {
    close(text) {
      const iv = randomBytes(12);
      const cipher = createCipheriv('aes-256-gcm', key, iv);
      const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
      return Buffer.concat([iv, cipher.getAuthTag(), body]).toString('base64url');
    },
    open(sealed) {
      try {
        const octets = Buffer.from(sealed, 'base64url');
        const decipher = createDecipheriv('aes-256-gcm', key, octets.subarray(0, 12));
        decipher.setAuthTag(octets.subarray(12, 28));
        return Buffer.concat([decipher.update(octets.subarray(28)), decipher.final()]).toString('utf8');
      } catch {
        return null;
      }
    },
  };
}
