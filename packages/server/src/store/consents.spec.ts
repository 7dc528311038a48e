import { consentNow, type ConsentEntry } from '@convite/core';
import { seededRandom } from '../demo/random';
import { receiveText } from '../services/replies/receive-text';
import { addPeople, byHand, openStage, type Stage } from '../testing/stage';
import type { ConsentOrigin } from './consents';

const seed = 42;
const file: ConsentOrigin = { source: 'file', how: 'a column says so', by: 'Spec' };

describe('the ledger of consent', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 12);
  });
  afterEach(() => stage.close());

  const now = new Date();
  const counts = async (id: number): Promise<Record<'email' | 'text', boolean>> => {
    const facts = await stage.context.store.personFacts.of(id, Date.now());
    return { email: !facts?.optedOut, text: Boolean(facts?.textConsent) };
  };
  const ledger = async (id: number): Promise<ConsentEntry[]> => {
    const rows: { channel: 'email' | 'text'; topic: string; is_given: number }[] = await stage
      .db('consent')
      .where({ subscriber_id: id })
      .orderBy('id');
    return rows.map(({ channel, topic, is_given }) => ({ channel, topic, isGiven: Boolean(is_given) }));
  };

  it(`says by itself what counts now, whatever was said by whom, 300 times (seed ${seed})`, async () => {
    const random = seededRandom(seed);
    const { consents } = stage.context.store;
    for (let round = 0; round < 300; round += 1) {
      const id = 1 + random.below(12);
      await random.pick([
        () => consents.note(id, random.pick(['email', 'text'] as const), random.chance(0.5), byHand, now),
        () => consents.optOut(id, byHand, now),
        () => consents.noteTexts(`+4477009${String(id).padStart(5, '0')}`, random.chance(0.5), byHand, now),
        () => consents.grantTexts([id, 1 + random.below(12)], file, now),
      ])();
    }
    for (let id = 1; id <= 12; id += 1)
      expect(await counts(id))
        .withContext(`person ${id}`)
        .toEqual(consentNow(await ledger(id)));
  });

  it('is not added to by saying again what counts, but where somebody said it to a person', async () => {
    const { consents } = stage.context.store;
    const before = (await ledger(3)).length;
    await consents.optOut(3, byHand, now);
    await consents.optOut(3, byHand, now);
    expect((await ledger(3)).length).toBe(before + 1);
    await consents.note(3, 'email', false, byHand, now);
    expect((await consents.latestOf(3)).map(({ channel, isGiven, how }) => [channel, isGiven, how])[0]).toEqual([
      'email',
      false,
      'said so',
    ]);
    expect((await ledger(3)).length).toBe(before + 2);
  });

  it('keeps a STOP against every file that says otherwise, until the person says START', async () => {
    const { store } = stage.context;
    const mobile = '+447700900004';
    const again = { email: 'p4@people.example', name: '', mobile, zone: '', textConsent: true };
    await receiveText(stage.context, { from: mobile, text: 'STOP please' });
    await store.newcomers.ensure(again, file, now);
    expect((await counts(4)).text).toBeFalse();
    await receiveText(stage.context, { from: mobile, text: 'Start' });
    expect((await counts(4)).text).toBeTrue();
    expect((await store.consents.latestOf(4)).map(({ isGiven, how }) => [isGiven, how])).toEqual([
      [true, 'wrote “Start”'],
      [false, 'wrote “STOP please”'],
      [true, 'on the paper form at the gate'],
    ]);
  });

  it('keeps it also of somebody who had never said yes', async () => {
    const { store } = stage.context;
    const quiet = { email: 'quiet@people.example', name: '', mobile: '+447700900999', zone: '', textConsent: null };
    const id = await store.newcomers.ensure(quiet, file, now);
    await receiveText(stage.context, { from: quiet.mobile, text: 'STOP' });
    await receiveText(stage.context, { from: quiet.mobile, text: 'STOP' });
    await store.newcomers.ensure({ ...quiet, textConsent: true }, file, now);
    expect([(await counts(id)).text, (await ledger(id)).length]).toEqual([false, 1]);
  });
});
