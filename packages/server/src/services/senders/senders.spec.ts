import { noPace } from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { proveSender } from '../beginning/prove-sender';
import { saveCue } from '../countdown/cues';
import { copyEvent } from '../events/copy-event';
import { previewInvitation } from '../sending/preview-invitation';
import { checkSenderNames } from './sender-names';
import { askSender, chooseSender, listSenders, pauseSender, removeSender, saveSender } from './senders';

const club = {
  ...{ name: 'Star club', email: 'club@spec.example', replyTo: 'desk@spec.example', textSender: 'StarClub' },
  ...{ signature: 'The club', takesNoAnswers: false, copyTo: '', hidesAddress: false, pace: noPace },
};

describe('senders beside the house', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
    event = await publishedEvent(stage);
  });
  afterEach(() => stage.close());

  const add = (over: Partial<typeof club> = {}) => saveSender(stage.context, null, { ...club, ...over }, actor);
  const first = async () => (await listSenders(stage.context))[0];

  it('write once somebody who reads their mail said yes; until then, and while they are paused, the house does', async () => {
    const id = await add();
    await chooseSender(stage.context, event, id, actor);
    expect(await first()).toEqual(jasmine.objectContaining({ fault: 'unproven', events: 1 }));
    const from = async () => (await previewInvitation(stage.context, event, 1, null)).message.from;
    const house = await from();
    expect(house).not.toBe('Star club');
    await askSender(stage.context, id, actor);
    const [mail] = stage.sentAtOnce;
    // To the address itself, from itself: who asks cannot say yes for it.
    expect([mail?.to.address, mail?.from.address]).toEqual(['club@spec.example', 'club@spec.example']);
    const token = /\/s\/(\S+)/.exec(mail?.text ?? '')?.[1] ?? '';
    expect(stage.context.links.readProvenSender(token)).toBe('club@spec.example');
    expect(await proveSender(stage.context, 'club@spec.example')).toBeTrue();
    expect(await from()).toBe('Star club');
    await invite(stage, event);
    const mails = await deliver(stage);
    expect(mails.map(({ from: { address }, replyTo }) => `${address} ${replyTo}`)).toEqual(
      Array(3).fill('club@spec.example desk@spec.example'),
    );
    expect(mails[0]?.text).toContain('The club');
    expect((await first())?.lately).toEqual({ accepted: 3, refused: 0, bounced: 0, complaints: 0, pauses: 0 });
    await pauseSender(stage.context, id, true, actor);
    expect([await from(), (await first())?.fault]).toEqual([house, 'paused']);
    await pauseSender(stage.context, id, false, actor);
    // Another address is proven anew.
    await saveSender(stage.context, id, { ...club, email: 'other@spec.example', was: club }, actor);
    expect([await from(), (await first())?.fault]).toEqual([house, 'unproven']);
    // The next time is written of by the same.
    const copy = await copyEvent(stage.context, event, false, actor);
    expect((await stage.context.store.events.find(copy))?.senderId).toBe(id);
    await removeSender(stage.context, id, actor);
    expect(await from()).toBe(house);
  });

  it('say when nobody reads answers, and send the first message of a sending in copy, once', async () => {
    const id = await add({ takesNoAnswers: true, copyTo: 'archive@spec.example' });
    await proveSender(stage.context, 'club@spec.example');
    await chooseSender(stage.context, event, id, actor);
    await invite(stage, event);
    const mails = await deliver(stage);
    const copies = mails.filter(({ to }) => to.address === 'archive@spec.example');
    expect([mails.length, copies.length]).toEqual([4, 1]);
    expect([copies[0]?.optOut, copies[0]?.envelopeFrom]).toEqual([null, stage.context.links.bounceAddress(0)]);
    for (const { text, replyTo } of mails) {
      expect(text).toContain('Nobody reads answers to this address.');
      expect(replyTo).toBe('');
    }
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    const [cue] = (await stage.context.store.firings.ofEvent(event)).filter(({ kind }) => kind === 'cue');
    await clockTo(stage, (cue?.dueMs ?? 0) + 1000);
    expect((await deliver(stage)).length).toBe(4);
  });

  it('are one for each address, and nobody overwrites what a colleague just changed', async () => {
    const id = await add();
    await expectAsync(add({ name: 'Again', email: 'CLUB@spec.example' })).toBeRejected();
    const other = await add({ email: 'two@spec.example' });
    await expectAsync(saveSender(stage.context, other, { ...club }, actor)).toBeRejected();
    await expectAsync(
      saveSender(stage.context, id, { ...club, name: 'Mine', was: { ...club, name: 'Older' } }, actor),
    ).toBeRejectedWith(jasmine.objectContaining({ status: 409 }));
    await expectAsync(chooseSender(stage.context, event, 99, actor)).toBeRejectedWithError(/no such sender/);
  });

  it('are looked up by name: what is there, and what to add', async () => {
    const id = await add({ email: 'club@mail.spec.example' });
    const own = { mailServer: 'smtp.spec.example', dkimDomain: 'spec.example', dkimSelector: 's1' };
    const records: Record<string, string[]> = {
      'mail.spec.example': ['other', 'v=spf1 include:spec.example -all'],
      's1._domainkey.spec.example': ['v=DKIM1; p=abc'],
    };
    const names = await checkSenderNames(stage.context, id, async (name) => records[name] ?? [], own);
    expect(names.map(({ what, isGood, at }) => `${what} ${isGood} ${at}`)).toEqual([
      'SPF true mail.spec.example',
      'DKIM true s1._domainkey.spec.example',
      'DMARC false _dmarc.mail.spec.example',
    ]);
    expect(names[2]?.advice).toContain('v=DMARC1; p=none');
    const none = await checkSenderNames(stage.context, id, () => Promise.reject(new Error('ETIMEOUT')), own);
    expect(none.every(({ advice, isGood }) => !isGood && advice.includes('No name server answers'))).toBeTrue();
    const unsigned = await checkSenderNames(stage.context, id, async () => [], { ...own, dkimDomain: '' });
    expect(unsigned[0]?.advice).toContain('v=spf1 a:smtp.spec.example -all');
    expect(unsigned[1]?.advice).toContain('Mail is not signed');
  });
});
