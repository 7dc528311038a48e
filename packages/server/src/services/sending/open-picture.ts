import type { EmailMessage } from '../../mail/message';
import type { House } from '../../store/said';
import type { Recipient } from '../../store/subscribers';
import { nowOf, type Context } from '../context';
import { isProgram, type Visitor } from './follow-link';

/**
 * A mail as it leaves, with a picture that nobody sees and that is asked for as the mail is opened: only where the house counts that,
 * and never for who minds. What is shown again carries none, so that a member who looks is not taken for the reader.
 */
export function withOpenPicture(
  { links }: Pick<Context, 'links'>,
  message: EmailMessage,
  { countsOpens }: Pick<House, 'countsOpens'>,
  { mindsNoting }: Pick<Recipient, 'mindsNoting'>,
  deliveryId: number,
): EmailMessage {
  const end = message.html.lastIndexOf('</body>');
  if (!countsOpens || mindsNoting || end < 0) return message;
  const picture = `<img src="${links.openPicture(deliveryId)}" alt="" width="1" height="1" style="display:block;border:0">`;
  return { ...message, html: message.html.slice(0, end) + picture + message.html.slice(end) };
}

/** Notes that the picture of a mail was asked for. Whoever asks gets it, whether or not that can be noted. */
export async function noteOpenPicture(context: Context, token: string, visitor: Visitor): Promise<void> {
  const deliveryId = context.links.readOpenPicture(token);
  const said = deliveryId === null ? null : await context.store.said.find(deliveryId);
  if (!said || deliveryId === null || !said.forAll.house.countsOpens) return;
  const opened = { firingId: said.firingId, deliveryId, subscriberId: said.person.id, isProgram: isProgram(visitor) };
  await context.store.linksPressed.noteOpened({ ...opened, at: nowOf(context) }).catch(() => undefined);
}
