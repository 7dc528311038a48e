import { createHmac, timingSafeEqual } from 'node:crypto';

/** Every address that Convite writes into messages, and the readers of those that come back. */
export interface Links {
  page(publicKey: string): string;
  ics(publicKey: string): string;
  /** A person's own calendar file, reply page, and calendar of everything they said yes to. */
  personIcs(eventId: number, subscriberId: number): string;
  reply(eventId: number, subscriberId: number): string;
  personFeed(subscriberId: number, nonce: number): string;
  personPage(subscriberId: number, nonce: number): string;
  topicFeed(topic: string): string;
  eventFeed(publicKey: string): string;
  /** Whose event a token of `personIcs` or `reply` names; null when it was not made here. */
  readPersonEvent(purpose: 'ics' | 'reply', token: string): { eventId: number; subscriberId: number } | null;
  /** Whose feed it is, and which of their addresses. */
  readFeed(token: string): { subscriberId: number; nonce: number } | null;
  /** A person's own preferences, at an address that is theirs until they make another. */
  preferences(subscriberId: number, nonce: number): string;
  readPreferences(token: string): { subscriberId: number; nonce: number } | null;
  /** One end of a change of address. */
  addressChange(id: number, end: 'old' | 'new'): string;
  readAddressChange(token: string): { id: number; end: 'old' | 'new' } | null;
  /** A form by which people sign up, and where they confirm that it was they. */
  join(publicKey: string): string;
  confirmSignup(id: number): string;
  readSignup(token: string): number | null;
  /** Where somebody confirms that they registered. */
  confirmHold(holdId: number): string;
  readHold(token: string): number | null;
  /** Says when a form was given out, so that one filled in by a machine is known by its haste. */
  formStamp(atMs: number): string;
  readFormStamp(stamp: string): number | null;
  /** Where somebody says that mail from this sender arrived. */
  provenSender(email: string): string;
  /** Whose proof it is, lower case; null when it was not made here. */
  readProvenSender(token: string): string | null;
  /** Where a member sets a password; the token stands behind the `#`, which no server and no log sees. */
  newPassword(token: string): string;
  /** Where a member who is signed in holds a cue. */
  holdCue(eventId: number, cueId: number): string;
  /** Where whoever is told of a firing stops it. */
  standby(firingId: number): string;
  /** What goes out, in the calendar of a member of the team. */
  teamFeed(memberId: number): string;
  readTeamFeed(token: string): number | null;
  /** A screen of the team's own, such as `/digests`. */
  screen(path: string): string;
  readStandby(token: string): number | null;
  optOut(subscriberId: number): string;
  optOutMailto(subscriberId: number): string;
  /** Whose opt-out token this is; null when it was not made here. */
  readOptOut(token: string): number | null;
  messageId(deliveryId: number): string;
  /** Envelope sender of a delivery (VERP): a bounce comes back to it. */
  bounceAddress(deliveryId: number): string;
  readBounceAddress(address: string): number | null;
  /** ORGANIZER of a person's invitations, where their calendar sends replies: the same for that person always. */
  guestAddress(subscriberId: number): string;
  readGuestAddress(address: string): number | null;
  /** In place of a sender's own, which stays theirs. */
  senderAddress(senderId: number): string;
  readSenderAddress(address: string): number | null;
  /** The delivery that a Message-ID of ours names; null when it was not made here. */
  readMessageId(messageId: string): number | null;
  /** Where answers go that are nobody's in particular. */
  readonly repliesAddress: string;
  /** A typed link of a message, counted as it is pressed: of a delivery, or of a firing without saying whose. */
  counted(of: 'person' | 'message', id: number, link: number): string;
  readCounted(token: string): { of: 'person' | 'message'; id: number; link: number } | null;
  /** A picture that nobody sees, by which it is counted that a mail was opened. */
  openPicture(deliveryId: number): string;
  readOpenPicture(token: string): number | null;
  /** A link of a text message, by its number in the text. */
  short(deliveryId: number, index: number): string;
  readShort(token: string): { deliveryId: number; index: number } | null;
  /** A picture of the house, for as long as mails are kept. */
  picture(digest: string): string;
  /** Answers when the house does. */
  readonly health: string;
  /** An address of this house. */
  isOwn(url: string): boolean;
  readonly optOutPrefix: string;
  readonly mailDomain: string;
}

/**
 * Tokens are an id and an HMAC of purpose and id: nothing to store, nothing to guess, none good for another purpose.
 * An opt-out token does not expire, because a person may open a message years later (RFC 8058 §3.1 asks as much).
 */
export function makeLinks({
  publicUrl,
  secret,
  mailDomain,
}: {
  publicUrl: string;
  secret: string;
  mailDomain: string;
}): Links {
  const signText = (text: string): string => createHmac('sha256', secret).update(text).digest('hex').slice(0, 24);
  const sign = (purpose: string, id: number): string => signText(`${purpose}:${id}`);
  const token = (purpose: string, id: number): string => `${id.toString(36)}-${sign(purpose, id)}`;
  const proofToken = (email: string): string =>
    `${Buffer.from(email).toString('base64url')}.${signText(`sender:${email}`)}`;
  /** Two numbers in one token, `a.b-signature`. */
  const pairToken = (purpose: string, a: number, b: number): string =>
    `${a.toString(36)}.${b.toString(36)}-${signText(`${purpose}:${a}.${b}`)}`;
  const readPair = (purpose: string, text: string): readonly [number, number] | null => {
    const [, aText, bText, signature] = /^([0-9a-z]{1,11})\.([0-9a-z]{1,11})-([0-9a-f]{24})$/.exec(text) ?? [];
    if (!aText || !bText || !signature) return null;
    const pair = [parseInt(aText, 36), parseInt(bText, 36)] as const;
    const isOurs = timingSafeEqual(Buffer.from(signText(`${purpose}:${pair[0]}.${pair[1]}`)), Buffer.from(signature));
    return isOurs ? pair : null;
  };
  /** As short as it can be, since a text pays by the letter: 48 bits, on a page that is asked for some times a minute. */
  const shortToken = (id: number, index: number): string => {
    const said = `${id.toString(36)}.${index.toString(36)}`;
    return `${said}-${createHmac('sha256', secret).update(`short:${said}`).digest('base64url').slice(0, 8)}`;
  };
  const isEqual = (one: string, other: string): boolean =>
    one.length === other.length && timingSafeEqual(Buffer.from(one), Buffer.from(other));
  const readToken = (purpose: string, text: string): number | null => {
    const [, idText, signature] = /^([0-9a-z]{1,11})-([0-9a-f]{24})$/.exec(text) ?? [];
    if (!idText || !signature) return null;
    const id = parseInt(idText, 36);
    return timingSafeEqual(Buffer.from(sign(purpose, id)), Buffer.from(signature)) ? id : null;
  };
  return {
    newPassword: (token) => `${publicUrl}/new-password#${token}`,
    page: (key) => `${publicUrl}/e/${key}`,
    ics: (key) => `${publicUrl}/e/${key}/event.ics`,
    personIcs: (eventId, id) => `${publicUrl}/i/${pairToken('ics', eventId, id)}/event.ics`,
    reply: (eventId, id) => `${publicUrl}/r/${pairToken('reply', eventId, id)}`,
    personFeed: (id, nonce) => `${publicUrl}/feed/person/${pairToken('feed', id, nonce)}.ics`,
    personPage: (id, nonce) => `${publicUrl}/my/${pairToken('feed', id, nonce)}`,
    topicFeed: (topic) => `${publicUrl}/feed/topic/${encodeURIComponent(topic)}.ics`,
    eventFeed: (key) => `${publicUrl}/feed/event/${key}.ics`,
    readPersonEvent: (purpose, text) => {
      const pair = readPair(purpose, text);
      return pair && { eventId: pair[0], subscriberId: pair[1] };
    },
    readFeed: (text) => {
      const pair = readPair('feed', text);
      return pair && { subscriberId: pair[0], nonce: pair[1] };
    },
    preferences: (id, nonce) => `${publicUrl}/p/${pairToken('preferences', id, nonce)}`,
    readPreferences: (text) => {
      const pair = readPair('preferences', text);
      return pair && { subscriberId: pair[0], nonce: pair[1] };
    },
    addressChange: (id, end) => `${publicUrl}/a/${pairToken('address', id, end === 'old' ? 0 : 1)}`,
    readAddressChange: (text) => {
      const pair = readPair('address', text);
      return pair && { id: pair[0], end: pair[1] === 0 ? 'old' : 'new' };
    },
    join: (key) => `${publicUrl}/join/${key}`,
    confirmSignup: (id) => `${publicUrl}/j/${token('signup', id)}`,
    readSignup: (text) => readToken('signup', text),
    confirmHold: (id) => `${publicUrl}/c/${token('hold', id)}`,
    readHold: (text) => readToken('hold', text),
    provenSender: (email) => `${publicUrl}/s/${proofToken(email.toLowerCase())}`,
    readProvenSender: (text) => {
      const [name = '', signature = ''] = text.split('.');
      if (!/^[\w-]{1,400}$/.test(name) || !/^[0-9a-f]{24}$/.test(signature)) return null;
      const email = Buffer.from(name, 'base64url').toString('utf8');
      const isOurs = timingSafeEqual(Buffer.from(signText(`sender:${email}`)), Buffer.from(signature));
      return isOurs ? email : null;
    },
    formStamp: (atMs) => token('form', atMs),
    readFormStamp: (text) => readToken('form', text),
    holdCue: (eventId, cueId) => `${publicUrl}/events/${eventId}/countdown?cue=${cueId}&hold=1`,
    teamFeed: (id) => `${publicUrl}/feed/team/${token('team', id)}.ics`,
    readTeamFeed: (text) => readToken('team', text),
    screen: (path) => `${publicUrl}${path}`,
    standby: (id) => `${publicUrl}/h/${token('standby', id)}`,
    readStandby: (text) => readToken('standby', text),
    optOut: (id) => `${publicUrl}/opt-out/${token('opt-out', id)}`,
    optOutMailto: (id) => `mailto:opt-out+${token('opt-out', id)}@${mailDomain}`,
    readOptOut: (text) => readToken('opt-out', text),
    messageId: (id) => `<d${id}.${sign('message', id).slice(0, 10)}@${mailDomain}>`,
    bounceAddress: (id) => `bounce+${token('bounce', id)}@${mailDomain}`,
    readBounceAddress: (address) => {
      const [, text] = /^bounce\+([^@]+)@/i.exec(address) ?? [];
      return text ? readToken('bounce', text.toLowerCase()) : null;
    },
    guestAddress: (id) => `guests+${token('guest', id)}@${mailDomain}`,
    readGuestAddress: (address) => {
      const [, text] = /^guests\+([^@]+)@/i.exec(address) ?? [];
      return text ? readToken('guest', text.toLowerCase()) : null;
    },
    senderAddress: (id) => `from+${token('sender address', id)}@${mailDomain}`,
    readSenderAddress: (address) => {
      const [, text] = /^from\+([^@]+)@/i.exec(address) ?? [];
      return text ? readToken('sender address', text.toLowerCase()) : null;
    },
    readMessageId: (messageId) => {
      const [, idText = '', signature = ''] = /^<?d(\d{1,15})\.([0-9a-f]{10})@/.exec(messageId) ?? [];
      const id = Number(idText);
      return idText && isEqual(sign('message', id).slice(0, 10), signature) ? id : null;
    },
    repliesAddress: `replies@${mailDomain}`,
    counted: (of, id, link) => `${publicUrl}/l/${of === 'person' ? 'p' : 'm'}${pairToken(`counted ${of}`, id, link)}`,
    readCounted: (text) => {
      const of = text.startsWith('p') ? 'person' : text.startsWith('m') ? 'message' : null;
      const pair = of && readPair(`counted ${of}`, text.slice(1));
      return of && pair ? { of, id: pair[0], link: pair[1] } : null;
    },
    openPicture: (id) => `${publicUrl}/o/${pairToken('opened', id, 0)}`,
    readOpenPicture: (text) => readPair('opened', text)?.[0] ?? null,
    short: (id, index) => `${publicUrl}/k/${shortToken(id, index)}`,
    readShort: (text) => {
      const [, idText = '', indexText = ''] = /^([0-9a-z]{1,11})\.([0-9a-z]{1,3})-[\w-]{8}$/.exec(text) ?? [];
      if (!idText || !indexText) return null;
      const [deliveryId, index] = [parseInt(idText, 36), parseInt(indexText, 36)];
      return isEqual(shortToken(deliveryId, index), text) ? { deliveryId, index } : null;
    },
    picture: (digest) => `${publicUrl}/picture/${digest}`,
    health: `${publicUrl}/healthz`,
    isOwn: (url) => url === publicUrl || url.startsWith(`${publicUrl}/`),
    optOutPrefix: 'opt-out+',
    mailDomain,
  };
}
