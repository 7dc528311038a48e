import type { SenderRow } from '@convite/contract';
import { noPace } from '@convite/core';
import { openScreen } from '../testing/screen';
import { SenderChoice } from './sender-choice';

const club: SenderRow = {
  ...{ id: 4, name: 'Star club', email: 'club@x.example', replyTo: '', textSender: '', signature: '', copyTo: '' },
  ...{ takesNoAnswers: false, provenAt: null, isPaused: false, fault: 'unproven', events: 1 },
  ...{ hidesAddress: false, pace: noPace, textProvenAt: null, hasTextFault: false },
  lately: { accepted: 0, refused: 0, bounced: 0, complaints: 0, pauses: 0 },
};

describe('SenderChoice', () => {
  const open = (rows: SenderRow[], sender: number | null = null) => openScreen(SenderChoice, { senders: rows, sender });

  it('is not there where the house has no other sender', async () => {
    expect((await open([])).text()).toBe('');
  });

  it('says beforehand why the house writes in its own name', async () => {
    const unproven = await open([club], 4);
    expect(unproven.text()).toContain('Star club is not proven yet: the house writes in its own name');
  });

  it('chooses one, or the house again', async () => {
    const { find, fixture, settle } = await open([{ ...club, fault: null }], 4);
    const chosen: (number | null)[] = [];
    fixture.componentInstance.chosen.subscribe((id) => chosen.push(id));
    const select = find<HTMLSelectElement>('select');
    for (const value of ['0', '4']) {
      select.value = value;
      select.dispatchEvent(new Event('change'));
      await settle();
    }
    expect(chosen).toEqual([null, 4]);
  });
});
