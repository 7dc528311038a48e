import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { of, throwError, type Observable } from 'rxjs';
import type { EventChanges, EventDetail } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { EventsApi } from '../api/events';
import { openScreen, refusal, someEvent } from '../testing/screen';
import { Changes } from './changes';
import { CurrentEvent } from './current-event';
import type { Sending } from '../ui/confirm';
import { InvitePanel } from './invite-panel';

const house = {
  invitation: { subject: 'Invitation: {{event.title}}', body: 'Come.' },
  invitationText: { subject: '', body: 'Come: {{link.event}}' },
  callOff: { subject: 'Called off: {{event.title}}', body: 'Sorry.' },
};

/** Presses a button of the dialog that asks again, and waits until it is gone. */
async function answerDialog(words: string): Promise<string> {
  const dialog = document.querySelector('mat-dialog-container');
  const asked = dialog?.textContent ?? '';
  [...(dialog?.querySelectorAll('button') ?? [])].find((one) => one.textContent?.trim() === words)?.click();
  await new Promise((done) => setTimeout(done, 400));
  return asked;
}

/** A send that wants its number confirmed, as the server does above a hundred people. */
const above100 = (sent: unknown[][]) => {
  return (...what: unknown[]): Observable<unknown> => {
    sent.push(what);
    return (what.at(-1) as Sending).count === 240
      ? of({ firingId: 5 })
      : throwError(() => refusal({ title: 'confirm-count', status: 409, count: 240 }));
  };
};

describe('InvitePanel', () => {
  const open = async (over: Partial<Record<keyof EventsApi, unknown>> = {}) => {
    const planned: unknown[][] = [];
    const sent: unknown[][] = [];
    const api = {
      houseWordings: () => of(house),
      countInvitations: (...what: unknown[]) => {
        planned.push(what);
        return of({ share: 1, audience: { gets: 12, without: [{ reason: 'already-invited', count: 3 }] } });
      },
      invite: above100(sent),
      ...over,
    };
    const lists = [
      { id: 3, name: 'Members', count: 15 },
      { id: 4, name: 'Press', count: 2 },
    ];
    const screen = await openScreen(InvitePanel, { eventId: 1 }, [
      { provide: EventsApi, useValue: api },
      { provide: AudienceApi, useValue: { lists: () => of(lists) } },
    ]);
    const tick = async (words: string): Promise<void> => {
      const label = [...screen.element.querySelectorAll('label.check')].find((one) => one.textContent?.includes(words));
      label?.querySelector('input')?.click();
      await screen.settle();
    };
    const isReady = (): boolean =>
      ![...screen.element.querySelectorAll('button')].find((one) => one.textContent?.includes('Send the invitation'))
        ?.disabled;
    return { ...screen, planned, sent, tick, isReady };
  };

  it('counts who gets it and who not before anything can be sent', async () => {
    const { tick, isReady, planned, text } = await open();
    expect(isReady()).toBeFalse();
    await tick('Members');
    await tick('Press');
    expect(planned.at(-1)).toEqual([1, [3, 4], 'email']);
    expect(text()).toMatch(/12 .*3 .*already/);
    expect(isReady()).toBeTrue();
    await tick('Members');
    await tick('Press');
    expect(isReady()).toBeFalse();
  });

  it('takes guests without an entry instead of lists, and says nothing can be sent when nobody is left', async () => {
    const { tick, planned, isReady } = await open({
      countInvitations: (...what: unknown[]) => {
        planned.push(what);
        return of({ share: 1, audience: { gets: 0, without: [] } });
      },
    });
    await tick('Members');
    await tick('Guests who hold');
    expect(planned.at(-1)).toEqual([1, [], 'email']);
    expect(isReady()).toBeFalse();
  });

  it('asks again above a hundred, and sends the number that was seen', async () => {
    const { tick, press, sent, said } = await open();
    await tick('Members');
    await press('by text');
    await press('Send the invitation');
    expect(await answerDialog('Send to 240')).toContain('Send to 240 people?');
    expect(sent.map((what) => what.at(-1))).toEqual([
      jasmine.objectContaining({ count: null }),
      jasmine.objectContaining({ count: 240 }),
    ]);
    expect(sent[1]?.slice(0, 4)).toEqual([1, [3], 'text', house.invitationText]);
    expect(said).toEqual(['The invitations are going out.']);
  });

  it('sends nothing when the answer is “not yet”, and can be pressed again', async () => {
    const { tick, press, sent, said, settle, isReady } = await open();
    await tick('Members');
    await press('Send the invitation');
    await answerDialog('Not yet');
    await settle();
    expect(sent.length).toBe(1);
    expect(said).toEqual([]);
    expect(isReady()).toBeTrue();
  });

  it('says why it was refused, and keeps the words', async () => {
    const { tick, press, type, text, find } = await open({
      invite: () =>
        throwError(() => refusal({ problems: [{ code: 'unknown-field', path: 'body', facts: { name: 'x' } }] })),
    });
    await tick('Members');
    await type('textarea', 'Words of an hour');
    await press('Send the invitation');
    expect(text()).toContain('There is no merge field “x”.');
    expect(find<HTMLTextAreaElement>('textarea').value).toBe('Words of an hour');
  });
});

describe('Changes', () => {
  const changes: EventChanges = {
    versions: [
      { number: 1, sequence: 0, at: '2031-05-01T09:00:00.000Z', by: 'Marta', differences: [], matters: false },
      {
        number: 2,
        sequence: 1,
        at: '2031-05-02T09:00:00.000Z',
        by: 'Rui',
        differences: [{ field: 'start', before: 'Wed 18 Jun 2031 19:30', after: 'Wed 18 Jun 2031 20:30' }],
        matters: true,
      },
    ],
    holders: [
      { version: 2, count: 60 },
      { version: 1, count: 240 },
    ],
    toTell: { email: 200, text: 40 },
    isNoticeUnderWay: false,
    suggestedWording: { subject: 'Changed: {{event.title}}', body: 'It moves.' },
  };
  const open = async (over: Partial<EventChanges> = {}, event = someEvent({}, { version: 2 }), canMarket = true) => {
    const sent: unknown[][] = [];
    const detail = signal<EventDetail>(event);
    const api = {
      changes: () => of({ ...changes, ...over }),
      houseWordings: () => of(house),
      sendNotice: above100(sent),
      callOff: above100(sent),
    };
    const screen = await openScreen(
      Changes,
      {},
      [
        { provide: CurrentEvent, useValue: { detail, id: () => 1, topic: () => 'event:1' } },
        { provide: EventsApi, useValue: api },
      ],
      canMarket,
    );
    return { ...screen, sent };
  };

  it('says newest first what differs and who holds which, and what the notice would do', async () => {
    const { element, text } = await open();
    expect([...element.querySelectorAll('article h2')].map((one) => one.textContent)).toEqual([
      'Version 2',
      'Version 1',
    ]);
    expect(text()).toContain('Everybody who was invited must hear of this.');
    expect(element.querySelector('.holder.alarm')?.textContent).toMatch(/version 1\s*240/);
    expect(text()).toContain(
      '240 hold an older version: 200 hear by email with the updated calendar entry, 40 by text.',
    );
  });

  it('sends the notice in the words suggested or typed, after asking above a hundred', async () => {
    const { type, press, sent, said } = await open();
    await type('textarea', 'It moves an hour.');
    await press('Send the notice');
    await answerDialog('Send to 240');
    expect(sent.at(-1)).toEqual([
      1,
      { subject: 'Changed: {{event.title}}', body: 'It moves an hour.' },
      jasmine.objectContaining({ count: 240 }),
    ]);
    expect(said).toEqual(['The notice is going out.']);
  });

  it('says when everybody is up to date, and when a notice is on its way', async () => {
    const none = { email: 0, text: 0 };
    const current = await open({ toTell: none });
    expect(current.text()).toContain('Everybody who can be reached holds version 2.');
    TestBed.resetTestingModule();
    const underWay = await open({ isNoticeUnderWay: true });
    expect(underWay.text()).toContain('A notice is going out.');
    expect(underWay.text()).not.toContain('Send the notice');
  });

  it('calls off only after saying what that does, in the house’s words', async () => {
    const { press, sent, text, said } = await open({ toTell: { email: 0, text: 0 } });
    await press('Call the event off');
    expect(text()).toContain('Every unfired cue stops');
    expect(sent).toEqual([]);
    await press('Call it off');
    expect(await answerDialog('Send to 240')).toContain('This cannot be taken back.');
    expect(sent.at(-1)).toEqual([1, house.callOff, jasmine.objectContaining({ count: 240 })]);
    expect(said).toEqual(['The event is called off.']);
  });

  it('lets a viewer read, and offers no second calling off', async () => {
    const viewed = await open({}, someEvent({}, { version: 2 }), false);
    expect(viewed.text()).toContain('Version 2');
    expect(viewed.element.querySelectorAll('button').length).toBe(0);
    TestBed.resetTestingModule();
    const off = await open({}, someEvent({}, { version: 2, status: 'called-off' }));
    expect(off.text()).not.toContain('Call the event off');
  });
});
