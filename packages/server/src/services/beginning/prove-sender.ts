import { writeHouseEmail, pressDocument } from '../sending/write-message';
import { nowOf, type Actor, type Context } from '../context';
import { Failure } from '../failure';

/**
 * Mails a proof from the house's sender to whoever asks. The sender is proven once its link is pressed: then mail from it
 * leaves and arrives. @throws Failure 502 in the mail server's words
 */
export async function askForProof(context: Context, actor: Actor & { readonly email: string }): Promise<string> {
  const settings = await context.store.house.settings();
  const { email } = settings.sender;
  const refusal = await context.mail.send(
    writeHouseEmail(context, settings, {
      to: { name: actor.name, address: actor.email },
      document: pressDocument(
        `Does mail from ${email} arrive?`,
        `This message comes from the sender that everybody you write to will see, ${email}. Press the button to say that it arrived.`,
        { label: 'It arrived', url: context.links.provenSender(email) },
      ),
    }),
  );
  if (refusal) throw new Failure(502, 'mail-server', `The mail server did not take it: ${refusal.answer}`);
  await context.store.house.audit(nowOf(context), actor, 'settings: proof of the sender asked', email);
  return actor.email;
}

/** The link was pressed. @returns whether it is of a sender as they are now */
export async function proveSender({ store, clock }: Pick<Context, 'store' | 'clock'>, email: string): Promise<boolean> {
  const { sender } = await store.house.settings();
  const isOther = await store.senders.prove(email, new Date(clock.now()));
  const isHouse = sender.email.toLowerCase() === email;
  if (!isHouse && !isOther) return false;
  if (isHouse) await store.beginning.proveSender(email);
  await store.live.touch('settings', 'senders', 'board');
  return true;
}
