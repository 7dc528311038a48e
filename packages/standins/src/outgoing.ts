import nodemailer from 'nodemailer';
import type { StandinsConfig } from './config';
import type { MailSummary } from './mail-store';
import type { OutgoingAnswer } from './person-answer';

/** What leaves the outside world for Convite: people's answers, and bounces, over SMTP like anybody's. */
export function openOutgoing({ inboundHost, inboundPort }: StandinsConfig) {
  const transport = nodemailer.createTransport({
    host: inboundHost,
    port: inboundPort,
    secure: false,
    ignoreTLS: true,
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  return {
    /** A calendar program's answer (RFC 6047 §2.4). */
    async sendAnswer(from: string, { to, subject, method, calendar }: OutgoingAnswer): Promise<void> {
      await transport.sendMail({
        from,
        to,
        subject,
        text: subject,
        alternatives: [{ contentType: `text/calendar; charset=UTF-8; method=${method}`, content: calendar }],
      });
    },
    /** A delivery status notice (RFC 3464) for a message that was taken and then could not be put into the mailbox. */
    async sendBounce(mail: MailSummary): Promise<void> {
      if (!mail.envelopeFrom) return;
      const boundary = `b-${mail.id}`;
      const raw = [
        'From: Mail Delivery System <mailer-daemon@mail.example>',
        `To: <${mail.envelopeFrom}>`,
        'Subject: Undelivered mail returned to sender',
        'Auto-Submitted: auto-replied',
        'MIME-Version: 1.0',
        `Content-Type: multipart/report; report-type=delivery-status; boundary="${boundary}"`,
        '',
        `--${boundary}`,
        'Content-Type: text/plain; charset=utf-8',
        '',
        `Your message to ${mail.to} could not be delivered: the mailbox is gone.`,
        '',
        `--${boundary}`,
        'Content-Type: message/delivery-status',
        '',
        'Reporting-MTA: dns; mail.example',
        '',
        `Final-Recipient: rfc822; ${mail.to}`,
        'Action: failed',
        'Status: 5.1.1',
        'Diagnostic-Code: smtp; 550 5.1.1 mailbox is gone (simulated)',
        '',
        `--${boundary}--`,
        '',
      ].join('\r\n');
      await transport.sendMail({ envelope: { from: '', to: [mail.envelopeFrom] }, raw });
    },
  };
}
export type Outgoing = ReturnType<typeof openOutgoing>;
