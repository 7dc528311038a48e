import { of } from 'rxjs';
import type { SenderChange, SenderRow } from '@convite/contract';
import { noPace } from '@convite/core';
import { SendersApi } from '../api/senders';
import { Session } from '../api/session';
import { openScreen } from '../testing/screen';
import { Senders } from './senders';

const club: SenderRow = {
  ...{ id: 4, name: 'Star club', email: 'club@x.example', replyTo: '', textSender: '+351910000999', signature: '' },
  ...{ takesNoAnswers: false, provenAt: null, isPaused: false, fault: 'unproven', events: 1, copyTo: '' },
  ...{ hidesAddress: true, pace: { ...noPace, perDay: 500 }, textProvenAt: null, hasTextFault: true },
  lately: { accepted: 1204, refused: 3, bounced: 2, complaints: 1, pauses: 1 },
};

describe('Senders', () => {
  const open = (more: Partial<SendersApi> = {}) =>
    openScreen(Senders, {}, [
      { provide: Session, useValue: { isOwner: () => true } },
      {
        provide: SendersApi,
        useValue: { list: () => of([club]), houseHealth: () => of({ ...club.lately, pauses: 0 }), ...more },
      },
    ]);

  it('say what became of each, its bound, and whose number texts come from', async () => {
    const { text } = await open();
    expect(text()).toContain('1,204 accepted, 3 refused, 2 come back, 1 called unwanted, paused 1 time');
    expect(text()).toContain('at most 500 a day');
    expect(text()).toContain('nobody proved +351910000999 yet: texts come from the house’s number');
    expect(text()).toContain('The house itself, in thirty days: 1,204 accepted');
  });

  it('are proven by a code that comes to their number', async () => {
    const asked: string[] = [];
    const { press, type, text } = await open({
      askCode: () => of(asked.push('ask')),
      proveNumber: (_id, code) => of(asked.push(code)),
    });
    await press('Text a code to +351910000999');
    await type('cv-sender-number input', '123456');
    await press('It came');
    expect(asked).toEqual(['ask', '123456']);
    expect(text()).toContain('Send another code');
  });

  it('keep what is not shown in a field as it was', async () => {
    const saved: SenderChange[] = [];
    const { press } = await open({ save: (_id, change) => of(saved.push(change)) });
    await press('Change');
    await press('Keep the sender');
    expect(saved[0]?.pace).toEqual({ ...noPace, perDay: 500 });
    expect(saved[0]?.was).toEqual(jasmine.objectContaining({ hidesAddress: true, name: 'Star club' }));
  });
});
