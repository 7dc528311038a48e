import MailComposer from 'nodemailer/lib/mail-composer';
import type { EmailMessage } from './message';

/**
 * The MIME tree: text, HTML and the calendar side by side (RFC 6047 §2.4), and the calendar once more as a file for
 * readers that look for one.
 */
export function mimeOf(message: EmailMessage) {
  const { calendar, optOut, inline = [] } = message;
  return {
    envelope: { from: message.envelopeFrom, to: [message.to.address] },
    messageId: message.messageId,
    from: message.from,
    ...(message.replyTo && { replyTo: message.replyTo }),
    ...(message.inReplyTo && { inReplyTo: message.inReplyTo, references: message.inReplyTo }),
    to: message.to,
    subject: message.subject,
    date: message.date,
    // Said here, since the library would count the letters of each part, some of them twice: a tenth of a sender's time.
    textEncoding: isMostlyLatin(message.text) ? ('quoted-printable' as const) : ('base64' as const),
    text: message.text,
    html: message.html,
    headers: {
      // RFC 2369 and RFC 8058; written whole, since the library's own option writes two headers.
      ...(optOut && {
        'List-Unsubscribe': { prepared: true, value: `<${optOut.url}>, <${optOut.mailto}>` },
        'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
        'List-Id': { prepared: true, value: message.listId },
      }),
      // RFC 3834 §5: keeps holiday notices from answering.
      'Auto-Submitted': 'auto-generated',
    },
    ...(calendar && {
      alternatives: [
        {
          contentType: `text/calendar; charset=UTF-8; method=${calendar.method}; component=VEVENT`,
          content: calendar.text,
        },
      ],
    }),
    ...((calendar || inline.length > 0) && {
      attachments: [
        // With the HTML in one multipart/related (RFC 2387), where the library finds their names in it.
        ...inline.map(({ cid, type, content }) => ({ cid, contentType: type, content, filename: false as const })),
        ...(calendar
          ? [
              {
                filename: calendar.method === 'CANCEL' ? 'cancelled.ics' : 'invitation.ics',
                contentType: 'application/ics',
                content: calendar.text,
              },
            ]
          : []),
      ],
    }),
  };
}

/** How large a message is on the wire, in octets. */
export async function octetsOf(message: EmailMessage): Promise<number> {
  return (await new MailComposer(mimeOf(message)).compile().build()).length;
}

/** Letters beyond Latin take two octets and more; escaped one by one, each would take six to nine. */
const isMostlyLatin = (text: string): boolean => Buffer.byteLength(text) < text.length * 1.4;
