import { isEmail } from '@convite/core';
import { NotNow, type ReceivedMail } from '../../mail/received-mail';
import { nowOf, type Context } from '../context';
import { writeHouseEmail } from '../sending/write-message';

/** Letters handed on to the house within an hour at the most; all are kept and shown. */
const mostForwardedAnHour = 60;
/**
 * Letters of one address, and of all, within a day: nobody fills the house's shelves. Those whose sender nothing proves are counted
 * apart, so that whoever writes under somebody else's name does not keep them from writing.
 */
const mostADay = { fromOne: 20, ofAll: 5000, unproven: 500 };

/**
 * What a person wrote in words ("Is there parking?"): kept and shown to the team beside the guest, and handed on to the
 * address in Settings when there is one. Nothing of it becomes a header of ours, but the address to answer to, and that
 * only when it is proved.
 */
export async function receiveLetter(
  context: Context,
  mail: ReceivedMail,
  personId: number | null,
): Promise<'letter' | 'ignored'> {
  const { store } = context;
  if (!mail.text && !mail.subject) return 'ignored';
  const isProved = personId !== null || (await mail.isProved());
  if (await hasWrittenEnough(context, mail.fromAddress, isProved)) throw new NotNow('too many letters today');
  const subscriberId =
    personId === null ? await store.subscribers.idByEmail(mail.fromAddress) : await store.subscribers.whoIs(personId);
  const eventId = subscriberId === null ? null : await store.letters.eventInQuestion(subscriberId, nowOf(context));
  const [to = ''] = mail.to;
  await store.letters.add({
    channel: 'email',
    eventId,
    subscriberId,
    at: nowOf(context),
    from: mail.fromAddress,
    to,
    subject: mail.subject,
    text: mail.text,
    isProved,
  });
  await store.live.touch('board', ...(eventId === null ? [] : [`event:${eventId}`]));
  await forward(context, mail).catch(() => undefined);
  return 'letter';
}

/** Has one address or number, or everybody together, written as much as is kept in a day? */
export async function hasWrittenEnough({ store, clock }: Context, from: string, isProved: boolean): Promise<boolean> {
  const dayAgo = new Date(clock.now() - 86_400_000);
  const most = isProved ? mostADay.ofAll : mostADay.unproven;
  const [fromOne, ofAll] = await Promise.all([
    store.letters.countSince(dayAgo, mostADay.fromOne, { isProved, from }),
    store.letters.countSince(dayAgo, most, { isProved }),
  ]);
  return fromOne >= mostADay.fromOne || ofAll >= most;
}

/** Where the sender reads whose private address that is; empty for another address. */
async function behind({ store, links }: Pick<Context, 'store' | 'links'>, to: string): Promise<string> {
  const id = links.readSenderAddress(to);
  const sender = id === null ? null : await store.senders.find(id);
  return !sender || sender.takesNoAnswers || sender.provenAt === null ? '' : sender.replyTo || sender.email;
}

/** Best effort: whatever becomes of it, the letter is kept. */
async function forward(context: Context, mail: ReceivedMail): Promise<void> {
  const { store } = context;
  const settings = await store.house.settings();
  const address = (await behind(context, mail.to[0] ?? '')) || settings.lettersTo;
  if (!address) return;
  const since = new Date(context.clock.now() - 3_600_000);
  if ((await store.letters.countSince(since, mostForwardedAnHour + 1)) > mostForwardedAnHour) return;
  const isAnswerable = isEmail(mail.fromAddress) && (await mail.isProved());
  const letter = `From: ${mail.fromAddress}${isAnswerable ? '' : ' (nothing proves that it is theirs)'}\nSubject: ${mail.subject}\n\n${mail.text}`;
  await context.mail.send(
    writeHouseEmail(context, settings, {
      to: { name: '', address },
      document: {
        subject: `A letter to ${settings.organisation}`,
        blocks: [{ kind: 'quoted', text: letter }],
      },
      replyTo: isAnswerable ? mail.fromAddress : '',
    }),
  );
}
