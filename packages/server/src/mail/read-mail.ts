import { simpleParser, type ParsedMail } from 'mailparser';
import { readPersonMessages } from '@convite/core';
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
  const automatic = mail.headers.get('auto-submitted');
  return {
    fromAddress,
    subject: oneLine(mail.subject ?? '').slice(0, 300),
    text: plain(mail.text ?? '').slice(0, most.text),
    calendars: calendarsOf(mail, knownAs || fromAddress),
    bounce: bounceOf(mail),
    isAutomatic: typeof automatic === 'string' && automatic !== 'no',
  };
}

function calendarsOf(mail: ParsedMail, sender: string): ReceivedCalendar[] {
  const parts = mail.attachments.filter(
    ({ contentType }) => contentType === 'text/calendar' || contentType === 'application/ics',
  );
  // The same answer as part and as file is one answer.
  const texts = [...new Set(parts.map(({ content }) => content.toString('utf8', 0, most.calendarOctets + 1)))];
  return texts.slice(0, most.calendars).map((text) => ({
    raw: text.slice(0, most.keptOctets),
    read:
      text.length > most.calendarOctets
        ? { ok: false, problems: [{ code: 'calendar-too-big', path: '' }] }
        : readPersonMessages(text, sender),
  }));
}

/** RFC 3464 §2.3: `Action: failed` is the end of it whatever the status; RFC 3463 says what the status is about. */
function bounceOf(mail: ParsedMail): ReceivedBounce | null {
  const type = mail.headers.get('content-type');
  const params = typeof type === 'object' && 'params' in type ? Object.entries(type.params) : [];
  if (!params.some(([name, value]) => name === 'report-type' && value === 'delivery-status')) return null;
  // The parser takes a message/delivery-status part for text and joins it to the readable part.
  const lines = (mail.text ?? '').slice(0, most.report).split(/\r?\n/);
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
  return { isFailed, text: words.slice(0, 500) || status || 'bounced', about: aboutOf(said) };
}

/** A failure that is transient by its number was tried until somebody gave up: the mailbox, not the address. */
const aboutOf = (said: string): ReceivedBounce['about'] => (/^4\./.test(said) ? 'mailbox' : refusalAbout(said));

const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();
/** Without control characters but line breaks. */
// eslint-disable-next-line no-control-regex
const plain = (text: string): string => text.replace(/[\u0000-\u0009\u000b-\u001f\u007f]/g, '').trim();
