import { wholeEvent } from './audience-sql';
import { whyNot, type Audience, type ReplyState } from '@convite/core';
import { publishedEvent, openStage, type Stage } from '../testing/stage';

const audiences: Audience[] = [
  { invitees: ['accepted', 'tentative'], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  { invitees: ['needs-action'], lists: [1], exceptLists: [2], exceptReplies: [], topics: ['moon'] },
  // A reminder to register (common practice): not for whoever has answered.
  { invitees: ['needs-action'], lists: [1], exceptLists: [], exceptReplies: ['accepted', 'declined'], topics: null },
  { invitees: [], lists: [1, 2], exceptLists: [], exceptReplies: [], topics: [] },
  { invitees: [], lists: [], exceptLists: [1], exceptReplies: [], topics: null },
];

describe('the set-wise audience', () => {
  let stage: Stage;
  let event: number;
  beforeAll(async () => {
    stage = await openStage();
    event = await publishedEvent(stage);
    await stage.context.store.lists.create('Second');
    await stage.bulk.subscribers(everyKind());
    const replies: (ReplyState | null)[] = ['accepted', 'declined', 'needs-action', null];
    const invitees = everyKind().flatMap(({ id }) => {
      const reply = replies[id % 4];
      return reply
        ? [
            {
              subscriberId: id,
              channel: 'email' as const,
              reply,
              repliedAt: null,
              comment: '',
              invitedAt: new Date(),
              holdsVersion: 1,
            },
          ]
        : [];
    });
    await stage.bulk.invitees(event, invitees);
  });
  afterAll(() => stage.close());

  /** One person for every mix of what the rules ask about. */
  const everyKind = () =>
    Array.from({ length: 512 }, (_, bits) => ({
      id: bits + 1,
      email: bits & 1 ? `k${bits}@people.example` : null,
      name: '',
      zone: '',
      mobile: bits & 2 ? '+447700900123' : '',
      textConsent: Boolean(bits & 4),
      optedOutAt: bits & 8 ? new Date() : null,
      bouncedAt: bits & 16 ? new Date() : null,
      createdAt: new Date(),
      topics: bits & 32 ? ['moon'] : bits & 64 ? ['pulsars'] : [],
      lists: [...(bits & 128 ? [1] : []), ...(bits & 256 ? [2] : [])],
    }));

  for (const [index, audience] of audiences.entries()) {
    for (const channel of ['email', 'text'] as const) {
      it(`agrees with core’s whyNot on every kind of person (${channel}, audience ${index + 1})`, async () => {
        const { store } = stage.context;
        const expected = new Map<string, number>();
        for (const { id } of everyKind()) {
          const facts = await store.subscribers.facts(id, wholeEvent(event));
          const reason = facts && whyNot(facts, audience, channel);
          const isMeant = facts && (facts.reply !== null || facts.lists.some((list) => audience.lists.includes(list)));
          if (isMeant) expected.set(reason ?? 'gets', (expected.get(reason ?? 'gets') ?? 0) + 1);
        }
        const counted = await store.deliveries.countAudience(audience, channel, wholeEvent(event));
        const found = new Map<string, number>([
          ...(counted.gets ? [['gets', counted.gets] as const] : []),
          ...counted.without.map(({ reason, count }) => [reason, count] as const),
        ]);
        expect(Object.fromEntries([...found].sort())).toEqual(Object.fromEntries([...expected].sort()));
        const firing = await store.firings.create({
          kind: 'notice',
          eventId: event,
          channel,
          dueMs: 0,
          state: 'stopped',
        });
        expect(await store.deliveries.expand(firing ?? 0, audience, channel, wholeEvent(event), new Date())).toBe(
          counted.gets,
        );
        // The same again adds nobody twice.
        expect(await store.deliveries.expand(firing ?? 0, audience, channel, wholeEvent(event), new Date())).toBe(0);
      });
    }
  }
});
