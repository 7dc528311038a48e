import iconv from 'iconv-lite';
import { simpleParser, type Attachment, type ParsedMail } from 'mailparser';
import { joinCharacters, readPersonMessages, uidIn } from '@convite/core';
import type { ReceivedBounce, ReceivedCalendar, ReceivedMail } from './received-mail';
import { refusalAbout } from './refusal';

/** What of a message is looked at, and what is kept. Real answers are a hundredth of this. */
const most = { parts: 40, calendars: 4, calendarOctets: 300_000, keptOctets: 16_000, text: 20_000, report: 64_000 };

/** What can be read from a message's octets alone. */
export type ReadMail = Omit<ReceivedMail, 'to' | 'isProved'>;

/**
 * Takes a message apart. Runs in a thread of its own, which is ended when it takes too long.
 * @param knownAs lower-case address of the person that the recipient's address names; empty when it names nobody
 * @throws Error for a message of too many parts, or that cannot be taken apart
 */
export async function readMail(octets: Uint8Array, knownAs: string): Promise<ReadMail> {
  const mail = await simpleParser(Buffer.from(octets), {
    skipTextToHtml: true,
    skipTextLinks: true,
    skipImageLinks: true,
    maxHtmlLengthToParse: 200_000,
  });
  if (mail.attachments.length > most.parts) throw new Error(`more than ${most.parts} parts`);
  const fromAddress = (mail.from?.value[0]?.address ?? '').toLowerCase().slice(0, 254);
  return {
    fromAddress,
    subject: oneLine(mail.subject ?? '').slice(0, 300),
    text: plain(mail.text ?? '').slice(0, most.text),
    calendars: calendarsOf(mail, knownAs || fromAddress),
    bounce: bounceOf(mail),
    complaint: complaintOf(mail, octets),
    isAutomatic: isAutomatic(mail),
  };
}

function calendarsOf(mail: ParsedMail, sender: string): ReceivedCalendar[] {
  // The same answer as part and as file is one answer; the part may say its method only in its header.
  const methods = new Map<string, string>();
  for (const part of mail.attachments.filter(isCalendar)) {
    const text = textOf(part);
    methods.set(text, methods.get(text) || paramOf(part, 'method'));
  }
  return [...methods].slice(0, most.calendars).map(([text, method]) => ({
    raw: text.slice(0, most.keptOctets),
    uid: uidIn(text).slice(0, 255),
    read:
      text.length > most.calendarOctets
        ? { ok: false, problems: [{ code: 'calendar-too-big', path: '' }] }
        : readPersonMessages(text, sender, method),
  }));
}

/** Written by a program: by RFC 3834 §5, or by what programs set before it (common practice). */
function isAutomatic({ headers }: ParsedMail): boolean {
  const of = (name: string): string => {
    const value = headers.get(name);
    return typeof value === 'string' ? value.trim().toLowerCase() : '';
  };
  return (
    !['', 'no'].includes(of('auto-submitted')) ||
    ['bulk', 'junk', 'list', 'auto_reply'].includes(of('precedence')) ||
    !['', 'no'].includes(of('x-autoreply')) ||
    !['', 'no'].includes(of('x-autorespond'))
  );
}

/** Some calendars send their answer as a file alone, under a type that says nothing. */
const isCalendar = ({ contentType, filename }: Attachment): boolean =>
  ['text/calendar', 'application/ics'].includes(contentType) || /\.ics$/i.test(filename ?? '');

/** In the charset that the part names, or that its first octets show; UTF-8 otherwise (RFC 5545 §3.1.4). */
function textOf(part: Attachment): string {
  const octets = part.content.subarray(0, most.calendarOctets + 1);
  const byMark =
    octets[0] === 0xff && octets[1] === 0xfe ? 'utf-16le' : octets[0] === 0xfe && octets[1] === 0xff ? 'utf-16be' : '';
  const charset = byMark || paramOf(part, 'charset') || 'utf-8';
  if (charset.toLowerCase() === 'utf-8' || !iconv.encodingExists(charset))
    return new TextDecoder().decode(joinCharacters(octets));
  // Not by TextDecoder: that of this Node reads windows-1252 as Latin-1, so that “€” and “–” are lost.
  return iconv.decode(octets, charset);
}

function paramOf({ headers }: Attachment, name: string): string {
  const type = headers.get('content-type');
  const params = typeof type === 'object' && 'params' in type ? Object.entries(type.params) : [];
  return params.find(([known]) => known === name)?.[1] ?? '';
}

/** RFC 6522: what a report is about; empty for what is none. */
function reportType({ headers }: ParsedMail): string {
  const type = headers.get('content-type');
  const params = typeof type === 'object' && 'params' in type ? Object.entries(type.params) : [];
  return String(params.find(([name]) => name === 'report-type')?.[1] ?? '').toLowerCase();
}

/** RFC 3464 §2.3: `Action: failed` is the end of it whatever the status; RFC 3463 says what the status is about. */
function bounceOf(mail: ParsedMail): ReceivedBounce | null {
  if (!['delivery-status', 'global-delivery-status'].includes(reportType(mail))) return null;
  // Of addresses that are not ASCII the report is a part of its own type, in UTF-8 (RFC 6533 §3). The other the parser takes for
  // text, and joins it to the readable part.
  const global = mail.attachments.find(({ contentType }) => contentType === 'message/global-delivery-status');
  const lines = (global ? global.content.subarray(0, most.report).toString('utf8') : (mail.text ?? ''))
    .slice(0, most.report)
    .split(/\r?\n/);
  const field = (name: string): string => {
    const at = lines.findIndex((line) => line.toLowerCase().startsWith(`${name}:`));
    if (at < 0) return '';
    const after = lines.slice(at + 1, at + 20);
    const end = after.findIndex((line) => !/^[ \t]/.test(line));
    return oneLine([lines[at]?.slice(name.length + 1) ?? '', ...after.slice(0, Math.max(0, end))].join(' '));
  };
  const [status, action] = [field('status'), field('action').toLowerCase()];
  const words = field('diagnostic-code').replace(/^[\w-]+\s*;\s*/, '');
  const isFailed = action ? action === 'failed' : status.startsWith('5');
  const said = [status, words].filter(Boolean).join(' ').slice(0, 500);
  // Its status is part of the reason, once.
  const reason = status && words.includes(status) ? words : said;
  return { isFailed, text: reason.slice(0, 500) || 'bounced', about: aboutOf(said) };
}

/** RFC 5965 §2: the report names what it is about by bringing it along, whole or only its header. */
function complaintOf(mail: ParsedMail, octets: Uint8Array): string | null {
  if (reportType(mail) !== 'feedback-report') return null;
  // The parser leaves out the header of a message in a message; it stands there as it came (RFC 5965 §3.1, RFC 2046 §5.2.1).
  const about = Buffer.from(octets.subarray(0, most.report)).toString('latin1');
  if (/^feedback-type:\s*(?!abuse\b|fraud\b|opt-out\b)\S/im.test(about)) return null;
  const named = [...about.matchAll(/^message-id:\s*(<[^\s<>]{1,300}>)/gim)].map(([, id = '']) => id);
  return named.findLast((id) => id !== mail.messageId) ?? null;
}

/** A failure that is transient by its number was tried until somebody gave up: the mailbox, not the address. */
const aboutOf = (said: string): ReceivedBounce['about'] => (/^4\./.test(said) ? 'mailbox' : refusalAbout(said));

const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();
/** Without control characters but line breaks. */
// eslint-disable-next-line no-control-regex
const plain = (text: string): string => text.replace(/[\u0000-\u0009\u000b-\u001f\u007f]/g, '').trim();
