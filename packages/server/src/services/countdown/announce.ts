import type { Settings } from '@convite/contract';
import { sayInstant, sayTime, sayZone } from '@convite/core';
import type { Refusal } from '../../mail/message';
import type { StoredEvent } from '../../store/events';
import type { Context } from '../context';
import { Failure, refuseProblems } from '../failure';
import { pressDocument, writeHouseEmail } from '../sending/write-message';
import { houseManner } from '../sending/manner';
import { describeFiring, type DescribedFiring } from './firings';
import { standbyMsOf } from './standby';

/**
 * Tells the contact of the next firing that stands by, with a link that stops it without signing in. What reaches nobody, or
 * whoever cannot be told just now, is looked at again until it goes. @returns whether somebody was told
 */
export async function announceNext(context: Context): Promise<boolean> {
  const { store, clock, links } = context;
  const settings = await store.house.settings();
  const isHouseTold = Boolean(settings.standby.email || settings.standby.mobile);
  const id = await store.firings.takeStandby(clock.now(), standbyMsOf(settings), isHouseTold);
  if (id === null) return false;
  const firing = await store.firings.find(id);
  const about = firing && (await describeFiring(context, firing));
  const event = firing?.eventId ? await store.events.find(firing.eventId) : null;
  const contact = contactOf(settings, event);
  // As counted last: telling counts nobody.
  if (!about || about.gets === 0) return true;
  const refusals = await tell(context, settings, contact, about, links.standby(id));
  // One way is enough; where none was, it is tried again.
  if (refusals.every((refusal) => refusal === null || refusal.kind === 'permanent')) return true;
  if (refusals.some((refusal) => refusal === null)) return true;
  await store.firings.forgetStandby(id);
  return false;
}

/** A test of it, so that the contact knows what it looks like. @throws Failure 422 without a contact, 502 in the other end's words */
export async function testAnnouncement(context: Context): Promise<void> {
  const settings = await context.store.house.settings();
  const { email, mobile } = settings.standby;
  if (!email && !mobile) refuseProblems([{ code: 'required', path: 'standby.email' }]);
  const about: DescribedFiring = {
    title: 'A test',
    eventTitle: settings.organisation,
    channel: 'email',
    gets: 412,
    dueAt: new Date(context.clock.now() + standbyMsOf(settings)).toISOString(),
    subject: 'Tomorrow at eight',
    firstLines: 'This is only a test: nothing goes out.',
  };
  const refused = (await tell(context, settings, settings.standby, about, context.links.standby(0))).find(
    (refusal) => refusal !== null,
  );
  if (refused) throw new Failure(502, 'mail-server', `It was not taken: ${refused.answer}`);
}

/** @example '412 people' */
export const sayPeople = (gets: number | null): string =>
  gets === null ? 'people not counted yet' : gets === 1 ? 'one person' : `${gets} people`;

/** @example 'to 412 people by email', 'for 12 people' */
export function sayWhom({ channel, gets }: Pick<DescribedFiring, 'channel' | 'gets'>): string {
  if (channel !== 'act') return `to ${sayPeople(gets)} by ${channel}`;
  return gets ? `for ${sayPeople(gets)}` : 'a task';
}

/** The event's own contact, where it has one; else the house's. */
const contactOf = ({ standby }: Settings, event: StoredEvent | null): StoredEvent['contact'] =>
  event && (event.contact.email || event.contact.mobile) ? event.contact : standby;

async function tell(
  context: Context,
  settings: Settings,
  { email, mobile }: StoredEvent['contact'],
  firing: DescribedFiring,
  url: string,
): Promise<(Refusal | null)[]> {
  const { title, eventTitle, channel, gets, dueAt, subject, firstLines } = firing;
  const dueMs = Date.parse(dueAt);
  const manner = houseManner(settings);
  const people = sayPeople(gets);
  const of = eventTitle ? `, ${eventTitle}` : '';
  const refusals: (Refusal | null)[] = [];
  if (email) {
    const words = [subject, firstLines].filter(Boolean).join('\n');
    const body = `${title}${of}\n${sayInstant(dueMs, settings.zone, manner)}\n${sayWhom(firing)}\n\n${words}`;
    const look = { label: 'Look at it, or stop it', url };
    const document = pressDocument(
      channel === 'act' ? `Standby: ${title}` : `Standby: ${title} goes to ${people}`,
      body,
      look,
    );
    refusals.push(
      await context.mail.send(writeHouseEmail(context, settings, { to: { name: '', address: email }, document })),
    );
  }
  if (mobile) {
    const at = `${sayTime(dueMs, settings.zone, manner)} ${sayZone(settings.zone)}`;
    refusals.push(
      await context.text.send({
        kind: 'text',
        reference: `standby-${dueMs}`,
        from: settings.textSender,
        to: mobile,
        date: new Date(context.clock.now()),
        text: `Standby ${at}: ${title}${of}, ${sayWhom(firing)}. Stop it: ${url}`,
      }),
    );
  }
  return refusals;
}
