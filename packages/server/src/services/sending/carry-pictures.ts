import type { HouseLook } from '@convite/contract';
import type { EmailMessage } from '../../mail/message';
import type { Picture } from '../../store/pictures';
import type { Context } from '../context';

/** So much of pictures is carried; what is beyond is fetched by the reader's program, as all are otherwise. */
const mostOctets = 400_000;
const mostKept = 40;

/** Puts the house's pictures into a mail, where the house wants that. */
export type CarryPictures = (message: EmailMessage, look: Pick<HouseLook, 'carriesPictures'>) => Promise<EmailMessage>;

/**
 * Carries pictures inside mails (RFC 2392), in place of their addresses: they are seen at once, also where nothing is fetched.
 * Those used of late are kept at hand, since thousands of mails show the same.
 */
export function pictureCarrier({ store, links }: Pick<Context, 'store' | 'links'>): CarryPictures {
  const kept = new Map<string, Promise<Picture | null>>();
  const find = (digest: string): Promise<Picture | null> => {
    let found = kept.get(digest);
    if (!found) {
      if (kept.size >= mostKept) kept.delete(kept.keys().next().value ?? '');
      kept.set(digest, (found = store.pictures.octets(digest)));
      found.catch(() => kept.delete(digest));
    }
    return found;
  };
  const start = links.picture('');
  return async (message, { carriesPictures }) => {
    if (!carriesPictures) return message;
    const carried = new Map<string, Picture>();
    let octets = 0;
    for (const [, digest = ''] of message.html.split(start).map((rest) => /^([0-9a-f]{8,64})"/.exec(rest) ?? [])) {
      const picture = digest && !carried.has(digest) ? await find(digest) : null;
      if (!picture || octets + picture.octets.length > mostOctets) continue;
      octets += picture.octets.length;
      carried.set(digest, picture);
    }
    if (carried.size === 0) return message;
    let { html } = message;
    for (const digest of carried.keys())
      html = html.replaceAll(`"${start}${digest}"`, `"cid:${digest}@${links.mailDomain}"`);
    const inline = [...carried].map(([digest, { type, octets: content }]) => ({
      cid: `${digest}@${links.mailDomain}`,
      type,
      content,
    }));
    return { ...message, html, inline };
  };
}
