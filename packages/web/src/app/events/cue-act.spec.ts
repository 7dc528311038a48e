import { of } from 'rxjs';
import type { CueAct } from '@convite/core';
import { EventsApi } from '../api/events';
import { openScreen } from '../testing/screen';
import { CueActChoice } from './cue-act';

const choices = {
  lists: [
    { id: 3, name: 'Friends' },
    { id: 4, name: 'Guests' },
  ],
  fields: [{ id: 8, name: 'Seat', type: 'text' }],
  members: [{ id: 2, name: 'Ana' }],
  webhooks: [],
};

describe('What a cue does', () => {
  const open = async (act: CueAct) => {
    const screen = await openScreen(CueActChoice, { act }, [
      { provide: EventsApi, useValue: { actChoices: () => of(choices) } },
    ]);
    const said: CueAct[] = [];
    screen.fixture.componentInstance.actChange.subscribe((one) => {
      said.push(one);
      screen.fixture.componentRef.setInput('act', one);
    });
    return { ...screen, said };
  };
  const kind = 'select[aria-label="What it does"]';

  it('is chosen by name, and keeps its list where people are taken off instead', async () => {
    const { said, type, text } = await open({ kind: 'join', list: 0 });
    expect(text()).toContain('Friends');
    await type('select[aria-label="List"]', '4', 'change');
    await type(kind, 'leave', 'change');
    await type(kind, 'field', 'change');
    await type('select[aria-label="Field"]', '8', 'change');
    await type('input', '12');
    expect(said).toEqual([
      { kind: 'join', list: 4 },
      { kind: 'leave', list: 4 },
      { kind: 'field', field: 0, value: '' },
      { kind: 'field', field: 8, value: '' },
      { kind: 'field', field: 8, value: '12' },
    ]);
  });

  it('may be a task, told in words, or a call, where there is a system to call', async () => {
    const { said, type, text } = await open({ kind: 'join', list: 3 });
    await type(kind, 'task', 'change');
    await type('select[aria-label="Member"]', '2', 'change');
    await type('input', 'Ring the caterer');
    expect(said.at(-1)).toEqual({ kind: 'task', member: 2, text: 'Ring the caterer' });
    expect(text()).toContain('stands under “Needs you”');
    await type(kind, 'call', 'change');
    expect(said.at(-1)).toEqual({ kind: 'call', webhook: 0 });
    expect(text()).toContain('An owner sets up other systems');
  });
});
