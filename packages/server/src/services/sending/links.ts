import { isEqual, makeTokens } from './tokens';

/** The pages of one person, by the first part of their path. */
export type PersonalPage = keyof typeof purposeOf;

const purposeOf = {
  i: 'ics',
  r: 'reply',
  my: 'feed',
  'feed/person': 'feed',
  p: 'preferences',
  a: 'address',
  j: 'signup',
  c: 'hold',
} as const;

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
  /** Such an address from before all personal links were ended: whoever writes there is known by what they prove alone. */
  isEndedGuestAddress(address: string): boolean;
  /** Such a token from before all personal links were ended. */
  isEnded(page: PersonalPage, token: string): boolean;
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
 * @param secret signs what the addresses carry (`tokens.ts`)
 * @param generation number of the last time that all personal links were ended; 0 for never
 */
export function makeLinks({
  publicUrl,
  secret,
  mailDomain,
  generation = () => 0,
}: {
  publicUrl: string;
  secret: string;
  mailDomain: string;
  generation?: () => number;
}): Links {
  const tokens = makeTokens(secret, generation);
  const proofToken = (email: string): string =>
    `${Buffer.from(email).toString('base64url')}.${tokens.sign(`sender:${email}`)}`;
  const shortToken = (id: number, index: number): string => {
    const said = `${id.toString(36)}.${index.toString(36)}`;
    return `${said}-${tokens.signShort(`short:${said}`)}`;
  };
  /** Names a delivery in a Message-ID: 40 bits, since all that it can do is to complain of that delivery. */
  const markOf = (deliveryId: number): string => tokens.sign(`message:${deliveryId}`).slice(0, 10);
  /** What stands between a `+` and the `@` of an address of ours. */
  const plusOf = (name: string, address: string): string =>
    (new RegExp(`^${name}\\+([^@]+)@`, 'i').exec(address)?.[1] ?? '').toLowerCase();
  return {
    newPassword: (token) => `${publicUrl}/new-password#${token}`,
    page: (key) => `${publicUrl}/e/${key}`,
    ics: (key) => `${publicUrl}/e/${key}/event.ics`,
    personIcs: (eventId, id) => `${publicUrl}/i/${tokens.pair('ics', eventId, id)}/event.ics`,
    reply: (eventId, id) => `${publicUrl}/r/${tokens.pair('reply', eventId, id)}`,
    personFeed: (id, nonce) => `${publicUrl}/feed/person/${tokens.pair('feed', id, nonce)}.ics`,
    personPage: (id, nonce) => `${publicUrl}/my/${tokens.pair('feed', id, nonce)}`,
    topicFeed: (topic) => `${publicUrl}/feed/topic/${encodeURIComponent(topic)}.ics`,
    eventFeed: (key) => `${publicUrl}/feed/event/${key}.ics`,
    readPersonEvent: (purpose, text) => {
      const pair = tokens.readPair(purpose, text);
      return pair && { eventId: pair[0], subscriberId: pair[1] };
    },
    readFeed: (text) => {
      const pair = tokens.readPair('feed', text);
      return pair && { subscriberId: pair[0], nonce: pair[1] };
    },
    preferences: (id, nonce) => `${publicUrl}/p/${tokens.pair('preferences', id, nonce)}`,
    readPreferences: (text) => {
      const pair = tokens.readPair('preferences', text);
      return pair && { subscriberId: pair[0], nonce: pair[1] };
    },
    addressChange: (id, end) => `${publicUrl}/a/${tokens.pair('address', id, end === 'old' ? 0 : 1)}`,
    readAddressChange: (text) => {
      const pair = tokens.readPair('address', text);
      return pair && { id: pair[0], end: pair[1] === 0 ? 'old' : 'new' };
    },
    join: (key) => `${publicUrl}/join/${key}`,
    confirmSignup: (id) => `${publicUrl}/j/${tokens.one('signup', id)}`,
    readSignup: (text) => tokens.readOne('signup', text),
    confirmHold: (id) => `${publicUrl}/c/${tokens.one('hold', id)}`,
    readHold: (text) => tokens.readOne('hold', text),
    provenSender: (email) => `${publicUrl}/s/${proofToken(email.toLowerCase())}`,
    readProvenSender: (text) => {
      const [name = '', signature = ''] = text.split('.');
      if (!/^[\w-]{1,400}$/.test(name) || !/^[0-9a-f]{24}$/.test(signature)) return null;
      const email = Buffer.from(name, 'base64url').toString('utf8');
      return isEqual(tokens.sign(`sender:${email}`), signature) ? email : null;
    },
    formStamp: (atMs) => tokens.one('form', atMs),
    readFormStamp: (text) => tokens.readOne('form', text),
    holdCue: (eventId, cueId) => `${publicUrl}/events/${eventId}/countdown?cue=${cueId}&hold=1`,
    teamFeed: (id) => `${publicUrl}/feed/team/${tokens.one('team', id)}.ics`,
    readTeamFeed: (text) => tokens.readOne('team', text),
    screen: (path) => `${publicUrl}${path}`,
    standby: (id) => `${publicUrl}/h/${tokens.one('standby', id)}`,
    readStandby: (text) => tokens.readOne('standby', text),
    optOut: (id) => `${publicUrl}/opt-out/${tokens.one('opt-out', id)}`,
    optOutMailto: (id) => `mailto:opt-out+${tokens.one('opt-out', id)}@${mailDomain}`,
    readOptOut: (text) => tokens.readOne('opt-out', text),
    messageId: (id) => `<d${id}.${markOf(id)}@${mailDomain}>`,
    bounceAddress: (id) => `bounce+${tokens.one('bounce', id)}@${mailDomain}`,
    readBounceAddress: (address) => tokens.readOne('bounce', plusOf('bounce', address)),
    guestAddress: (id) => `guests+${tokens.one('guest', id)}@${mailDomain}`,
    readGuestAddress: (address) => tokens.readOne('guest', plusOf('guests', address)),
    isEndedGuestAddress: (address) => tokens.isEnded('guest', plusOf('guests', address)),
    isEnded: (page, token) => tokens.isEnded(purposeOf[page], token),
    senderAddress: (id) => `from+${tokens.one('sender address', id)}@${mailDomain}`,
    readSenderAddress: (address) => tokens.readOne('sender address', plusOf('from', address)),
    readMessageId: (messageId) => {
      const [, idText = '', signature = ''] = /^<?d(\d{1,15})\.([0-9a-f]{10})@/.exec(messageId) ?? [];
      const id = Number(idText);
      return idText && isEqual(markOf(id), signature) ? id : null;
    },
    repliesAddress: `replies@${mailDomain}`,
    counted: (of, id, link) => `${publicUrl}/l/${of === 'person' ? 'p' : 'm'}${tokens.pair(`counted ${of}`, id, link)}`,
    readCounted: (text) => {
      const of = text.startsWith('p') ? 'person' : text.startsWith('m') ? 'message' : null;
      const pair = of && tokens.readPair(`counted ${of}`, text.slice(1));
      return of && pair ? { of, id: pair[0], link: pair[1] } : null;
    },
    openPicture: (id) => `${publicUrl}/o/${tokens.pair('opened', id, 0)}`,
    readOpenPicture: (text) => tokens.readPair('opened', text)?.[0] ?? null,
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
