import { randomBytes } from 'node:crypto';
import { nobodyChosen, type HouseLook, type Settings } from '@convite/contract';
import {
  letter,
  noPressure,
  cueMoments,
  goesByZones,
  instantsOf,
  nextIssues,
  nextOccurrence,
  noPace,
  wallTimeAt,
  type ReplyState,
  type EventFacts,
} from '@convite/core';
import { hashPassword } from '../services/accounts/passwords';
import { addDemoMark, addDemoPicture } from './picture';
import { inventWordings } from './wordings';
import { houseWordings } from '../services/sending/house-wordings';
import { planCues, planDigest, type PlanningHouse } from '../services/countdown/plan-firings';
import type { DemoBulk, DemoDelivery, DemoInvitee, DemoSubscriber } from '../store/demo-bulk';
import type { StoredEvent } from '../store/events';
import type { Store } from '../store/store';
import { inventEvents, type DemoEvent } from './events';
import { inventSegments } from './segments';
import { demoLists, demoTopics, inventPeople } from './people';
import { seededRandom, type Random } from './random';
import { inventForm } from './sign-up';

/** The demonstration's sign-ins; `npm start` prints them. */
export const demoTeam = [
  { name: 'Marta Vilhena', email: 'marketer@serradabruma.example', role: 'marketer', password: 'under-the-stars' },
  { name: 'Olavo Brandão', email: 'owner@serradabruma.example', role: 'owner', password: 'under-the-stars' },
  { name: 'Vera Quintão', email: 'viewer@serradabruma.example', role: 'viewer', password: 'under-the-stars' },
] as const;

export interface DemoOptions {
  readonly nowMs: number;
  /** Base address of the stand-in web calendar. */
  readonly webCalendarUrl: string;
  readonly people: number;
}

const dayMs = 86_400_000;
const seed = 20_261_124;

/** Fills an empty database with the Serra da Bruma Observatory. */
export async function loadDemo(
  store: Store,
  bulk: DemoBulk,
  { nowMs, webCalendarUrl, people: count }: DemoOptions,
): Promise<void> {
  const random = seededRandom(seed);
  for (const { password, ...member } of demoTeam)
    await store.members.create({ ...member, passwordHash: await hashPassword(password) });
  const ids: number[] = [];
  for (const name of demoLists) ids.push(await store.lists.create(name));
  /** What is invented counts lists from 1; a database counts as it will. */
  const idsOf = (lists: readonly number[]): number[] => lists.flatMap((list) => ids[list - 1] ?? []);
  const people = inventPeople(random, count, nowMs).map((one) => ({ ...one, lists: idsOf(one.lists) }));
  await bulk.subscribers(people);
  const events: { readonly id: number; readonly title: string }[] = [];
  const monthAgo = new Date(nowMs - 30 * dayMs);
  const picture = await addDemoPicture(store, demoTeam[0].name, monthAgo);
  for (const wording of inventWordings(picture))
    await store.keptWordings.add(wording.key, wording, demoTeam[0].name, monthAgo);
  for (const [index, event] of inventEvents(nowMs, picture).entries())
    events.push({
      id: await loadEvent(store, bulk, random, people, withLists(event, idsOf), index, nowMs),
      title: event.facts.title,
    });
  for (const segment of inventSegments(ids, (words) => events.find(({ title }) => title.includes(words))?.id ?? 0))
    await store.segments.create(segment, demoTeam[0].name, new Date(nowMs - 20 * dayMs));
  await store.signups.create(randomBytes(8).toString('hex'), inventForm(ids), new Date(nowMs - 20 * dayMs));
  await loadDigest(store, bulk, people, ids[0] ?? 0, nowMs);
  // Last, because a database with settings counts as set up.
  const settings = demoSettings(webCalendarUrl, await addDemoMark(store, demoTeam[0].name, monthAgo));
  await store.house.saveSettings(settings);
  await store.beginning.proveSender(settings.sender.email);
}

/** By which cues are planned, before there are settings. */
const demoHabits: PlanningHouse = {
  workdays: [1, 2, 3, 4, 5],
  holidays: [],
  quiet: { from: '22:00', until: '08:00', channels: ['text'] },
  standby: { minutes: 10, email: 'stage@serradabruma.example', mobile: '+447700900100' },
};

const demoSettings = (webCalendarUrl: string, mark: HouseLook['mark']): Settings => ({
  organisation: 'Serra da Bruma Observatory',
  postalAddress: 'Serra da Bruma Observatory\nEstrada da Serra 214, 4900-999 Bruma, Portugal',
  zone: 'Europe/Lisbon',
  region: 'PT',
  sender: {
    name: 'Serra da Bruma Observatory',
    email: 'sky@serradabruma.example',
    replyTo: 'hello@serradabruma.example',
  },
  lettersTo: '',
  textSender: 'SerraBruma',
  pace: { email: noPace, text: noPace },
  keepMonths: null,
  webCalendars: [{ name: 'Web calendar', pattern: `${webCalendarUrl}/add{?title,start,end,place,description,zone}` }],
  topics: demoTopics,
  allowPrivateAddresses: true,
  page: { colour: '#4a2545', mapPattern: `${webCalendarUrl}/map{?place}` },
  look: {
    design: 'letter',
    face: 'bookish',
    mark,
    header: 'A dark hill above the fog, open to everybody',
    signature: 'Clear skies,\nthe people of the observatory',
    carriesPictures: false,
    footer: 'The dome is unheated: bring a coat, whatever the season.',
  },
  dayOrder: 'day-first',
  clock: '24',
  language: 'en',
  firstWeekday: 1,
  pressure: noPressure,
  countsLinks: 'by-person',
  countsOpens: false,
  asksRelease: false,
  ...demoHabits,
  askAbove: 100,
  notesPages: true,
  avoidWords: ['last chance', 'click here'],
  textPrice: { perPart: 0.06, currency: 'EUR' },
  requiresSecondFactor: false,
});

const withLists = (event: DemoEvent, idsOf: (lists: readonly number[]) => number[]): DemoEvent => ({
  ...event,
  invited: event.invited && { ...event.invited, lists: idsOf(event.invited.lists) },
  cues: event.cues.map((cue) => ({ ...cue, audience: { ...cue.audience, lists: idsOf(cue.audience.lists) } })),
});

async function loadEvent(
  store: Store,
  bulk: DemoBulk,
  random: Random,
  people: readonly DemoSubscriber[],
  demo: DemoEvent,
  index: number,
  nowMs: number,
): Promise<number> {
  const { facts, before, status } = demo;
  const madeAt = new Date(nowMs - 40 * dayMs);
  const uid = `demo-${index + 1}@convite.serradabruma.example`;
  const publicKey = `demo${String(index + 1).padStart(2, '0')}`;
  const id = await store.events.create({
    publicKey,
    uid,
    status,
    reach: facts.isPersonal ? 'invited' : 'public',
    facts: before ?? facts,
    by: demoTeam[0].name,
    now: madeAt,
  });
  if (before)
    await store.events.addVersion(
      id,
      { number: 2, sequence: 1, facts, calledOff: false },
      demoTeam[0].name,
      new Date(nowMs - dayMs),
    );
  const event = await store.events.find(id);
  if (!event) throw new Error('the event was just made');
  const asked = demo.invited ? inviteSome(random, people, demo.invited, event, nowMs) : [];
  const { guests, waiting } = asFarAsPlacesGo(asked, facts, demo.waiting ?? 0);
  if (guests.length) {
    await bulk.invitees(id, guests);
    const invitedAt = guests[0]?.invitedAt ?? madeAt;
    const firing = await store.firings.create({
      kind: 'invitation',
      eventId: id,
      channel: 'email',
      dueMs: invitedAt.getTime(),
      state: 'set',
      content: {
        kind: 'invitation',
        document: { ...houseWordings.invitation, from: 'invitation' },
        version: 1,
        stampMs: invitedAt.getTime(),
        audience: { invitees: [], lists: demo.invited?.lists ?? [], exceptLists: [], exceptReplies: [], topics: null },
      },
    });
    await bulk.goneOut(
      firing ?? 0,
      'email',
      invitedAt,
      guests.map((guest) => deliveryOf(random, guest.subscriberId)),
    );
    await bulk.answered('invitation', guests.filter(({ reply }) => reply !== 'needs-action').length);
  }
  await letGuestsBehave(store, random, event, demo, guests, nowMs);
  if (facts.registration) await store.registrations.adopt(id, new Date(nowMs));
  for (const [index, { subscriberId }] of waiting.entries()) {
    const place = { eventId: id, subscriberId, occurrence: '' };
    await store.waitlist.add(place, event.version.number, new Date(nowMs - (waiting.length - index) * 7 * 3_600_000));
  }
  for (const { subscriberId, reply } of guests)
    if (reply === 'accepted' && demo.online && (subscriberId * 37) % 100 < demo.online * 100) {
      const place = { eventId: id, subscriberId, occurrence: '' };
      await store.registrations.follow(place, { reply, presence: 'online' }, new Date(nowMs));
    }
  for (const fields of demo.cues) await store.cues.create(id, fields);
  const cues = await store.cues.ofEvent(id);
  await planCues(store, event, cues, nowMs, demoHabits);
  await letPastCuesFire(store, bulk, random, event, guests, people, nowMs);
  return id;
}

/** Guests with the answers that people give: half accept, some never answer. */
function inviteSome(
  random: Random,
  people: readonly DemoSubscriber[],
  invited: { lists: readonly number[]; share: number },
  event: StoredEvent,
  nowMs: number,
): DemoInvitee[] {
  const { startMs } = instantsOf(event.version.facts);
  const invitedMs = Math.min(startMs - 9 * dayMs, nowMs - 2 * dayMs - random.below(48) * 3_600_000);
  return people
    .filter(
      (one) =>
        one.lists.some((list) => invited.lists.includes(list)) &&
        !one.optedOutAt &&
        !one.bouncedAt &&
        random.chance(invited.share),
    )
    .map((one) => {
      const reply = random.pick<ReplyState>([
        'accepted',
        'accepted',
        'accepted',
        'accepted',
        'tentative',
        'declined',
        'declined',
        'needs-action',
        'needs-action',
        'needs-action',
      ]);
      const repliedMs = Math.min(nowMs - 60_000, invitedMs + Math.floor(random.next() ** 3 * 5 * dayMs));
      return {
        subscriberId: one.id,
        channel: 'email',
        reply,
        repliedAt: reply === 'needs-action' ? null : new Date(repliedMs),
        comment:
          reply === 'declined' && random.chance(0.15)
            ? random.pick(['Sorry, we are away that week.', 'A pena! Fica para a próxima.', 'Working that night 😕'])
            : '',
        invitedAt: new Date(invitedMs),
        holdsVersion: event.version.number === 1 || random.chance(0.55) ? event.version.number : 1,
      };
    });
}

/** As many say yes as there are places; the next few wait for one, and the others have not answered. */
function asFarAsPlacesGo(
  guests: readonly DemoInvitee[],
  { registration }: EventFacts,
  mostWaiting: number,
): { readonly guests: readonly DemoInvitee[]; readonly waiting: readonly DemoInvitee[] } {
  const places = registration?.waitlist ? (registration.places ?? Infinity) : Infinity;
  const tooLate = guests.filter(({ reply }) => reply === 'accepted').slice(places);
  const late = new Set(tooLate);
  return {
    guests: guests.map((one) => (late.has(one) ? { ...one, reply: 'needs-action', repliedAt: null } : one)),
    waiting: tooLate.slice(0, mostWaiting),
  };
}

/** What would have gone out already has: cues whose moment is past are done, with the people they went to. */
async function letPastCuesFire(
  store: Store,
  bulk: DemoBulk,
  random: Random,
  event: StoredEvent,
  guests: readonly DemoInvitee[],
  people: readonly DemoSubscriber[],
  nowMs: number,
): Promise<void> {
  for (const cue of await store.cues.ofEvent(event.id)) {
    if (cue.isDraft || guests.length === 0 || event.version.facts.isPersonal) continue;
    // What goes by each person's clock has no past to show: its groups are planned from today on.
    if (goesByZones(cue.moment)) continue;
    const moments = cueMoments(cue.moment, event.version.facts, nowMs - pastMs, nowMs, []);
    for (const { slot, dueMs } of moments.filter(({ dueMs: at }) => at < nowMs)) {
      const known = (await store.firings.ofEvent(event.id)).find((one) => one.cueId === cue.id && one.slot === slot);
      const planned = { kind: 'cue', eventId: event.id, cueId: cue.id, slot, channel: cue.channel } as const;
      const id = known?.id ?? (await store.firings.create({ ...planned, dueMs, state: 'set' })) ?? 0;
      const getsIt = guests.filter(
        ({ reply, subscriberId }) =>
          cue.audience.invitees.includes(reply) && (cue.channel === 'email' || people[subscriberId - 1]?.textConsent),
      );
      await bulk.goneOut(
        id,
        cue.channel,
        new Date(dueMs),
        getsIt.map((guest) => deliveryOf(random, guest.subscriberId)),
      );
    }
  }
}

/** How far back the demonstration's past reaches. */
const pastMs = 28 * dayMs;

/** Answers for single dates, a proposal for another time, booked slots: what guests do beside yes and no. */
async function letGuestsBehave(
  store: Store,
  random: Random,
  event: StoredEvent,
  demo: DemoEvent,
  guests: readonly DemoInvitee[],
  nowMs: number,
): Promise<void> {
  const { facts } = event.version;
  const next = nextOccurrence(facts, nowMs);
  for (const guest of next && demo.answersByDate ? guests : [])
    if (random.chance(demo.answersByDate ?? 0))
      await store.dates.applyReply(
        event.id,
        guest.subscriberId,
        next?.key ?? '',
        {
          state: random.chance(0.7) ? 'declined' : 'accepted',
          sequence: 0,
          stampMs: nowMs - dayMs,
          comment: '',
          delegatedTo: '',
        },
        new Date(nowMs - dayMs),
      );
  const [proposer] = guests;
  if (next && proposer && demo.proposesHours)
    await store.proposals.add({
      eventId: event.id,
      subscriberId: proposer.subscriberId,
      occurrence: '',
      startMs: next.startMs + demo.proposesHours * 3_600_000,
      endMs: next.endMs + demo.proposesHours * 3_600_000,
      comment: 'Could we begin an hour later? The train from Porto arrives at 19:40.',
      now: new Date(nowMs - 5 * 3_600_000),
    });
  if (demo.slotMinutes) await giveSlots(store, event, guests, demo.slotMinutes);
}

async function giveSlots(
  store: Store,
  event: StoredEvent,
  guests: readonly DemoInvitee[],
  minutes: number,
): Promise<void> {
  const { startMs } = instantsOf(event.version.facts);
  const wall = (slot: number): string => wallTimeAt(startMs + slot * minutes * 60_000, event.version.facts.zone);
  // Two eyepieces, five slots an evening, and a second evening for those who come later.
  await store.personal.save(
    event.id,
    guests.map(({ subscriberId }, index) => {
      const slot = Math.floor(index / 2) % 5;
      const evening = Math.floor(index / 10) * 24 * (60 / minutes);
      return {
        subscriberId,
        start: wall(slot + evening),
        end: wall(slot + evening + 1),
        place: index % 2 ? 'Dome, east eyepiece' : 'Dome, west eyepiece',
        notes: '',
      };
    }),
  );
}

const deliveryOf = (random: Random, subscriberId: number): DemoDelivery =>
  random.chance(0.006)
    ? { subscriberId, state: 'failed', answer: '552 5.2.2 mailbox is full' }
    : { subscriberId, state: 'sent', answer: '' };

async function loadDigest(
  store: Store,
  bulk: DemoBulk,
  people: readonly DemoSubscriber[],
  listId: number,
  nowMs: number,
): Promise<void> {
  const fields = {
    name: 'The next ten days',
    weekday: 5,
    at: '13:00',
    zone: 'Europe/Lisbon',
    windowDays: 10,
    whom: { ...nobodyChosen, lists: [listId] },
    isOn: true,
    senderId: null,
    wording: letter(
      'The next ten days at Serra da Bruma',
      'Dear {{person.firstName|friend}},\n\nthis is what the sky and the house hold for you.',
    ),
  };
  const id = await store.digests.create(fields);
  for (const dueMs of nextIssues(fields, nowMs - 22 * dayMs, 3)) {
    const firing = await store.firings.create({ kind: 'digest', digestId: id, channel: 'email', dueMs, state: 'set' });
    const readers = people.filter((one) => one.lists.includes(listId) && !one.optedOutAt && !one.bouncedAt);
    await bulk.goneOut(
      firing ?? 0,
      'email',
      new Date(dueMs),
      readers.map((one) => ({ subscriberId: one.id, state: 'sent', answer: '' })),
    );
  }
  await planDigest(store, { id, ...fields }, nowMs);
}
