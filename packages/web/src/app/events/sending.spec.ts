import { letter, plainDocument, plainTextOf, type WordingDocument } from '@convite/core';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { of, throwError, type Observable } from 'rxjs';
import type { CountedMessage, EventChanges, EventDetail } from '@convite/contract';
import { AudienceSource } from '../ui/audience/audience-source';
import { EventsApi } from '../api/events';
import { choose, noAudienceSource, openScreen, refusal, shown, someEvent } from '../testing/screen';
import { Changes } from './changes';
import { CurrentEvent } from './current-event';
import type { Sending } from '../ui/confirm';
import { InvitePanel } from './invite-panel';

const house = {
  invitation: letter('Invitation: {{event.title}}', 'Come.'),
  invitationText: plainDocument('', 'Come: {{link.event}}'),
  callOff: letter('Called off: {{event.title}}', 'Sorry.'),
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
    return what.some((part) => (part as Sending | null)?.count === 240)
      ? of({ firingId: 5 })
      : throwError(() => refusal({ title: 'confirm-count', status: 409, count: 240 }));
  };
};

describe('InvitePanel', () => {
  const out = { exceptLists: [], exceptSegments: [], exceptPeople: [] };
  const lists = [
    { id: 3, name: 'Members', count: 15, isArchived: false },
    { id: 4, name: 'Press', count: 2, isArchived: false },
  ];
  const open = async (over: Partial<Record<keyof EventsApi, unknown>> = {}, event = someEvent(), gets = 12) => {
    const planned: CountedMessage[] = [];
    const sent: unknown[][] = [];
    const kept: unknown[] = [];
    const tried: string[] = [];
    const api = {
      houseWordings: () => of(house),
      invite: above100(sent),
      chooseToInvite: (...what: unknown[]) => {
        kept.push(what);
        return of(null);
      },
      previewInvitation: () =>
        of({
          person: { name: 'Ana', email: '' },
          message: shown({ subject: 'Come, Ana', text: 'Dear Ana,\n\nhttp://x' }),
          wording: house.invitation,
        }),
      tryOut: (_: number, wording: WordingDocument) => {
        tried.push(plainTextOf(wording));
        return of({
          parts: [{ part: 'join-link', name: 'Join link', isGood: false, said: 'It answers 404.' }],
          unasked: 0,
        });
      },
      ...over,
    };
    const source: AudienceSource = {
      ...noAudienceSource,
      lists: () => of(lists),
      segments: () => of([{ id: 7, name: 'Near us', count: 9, isArchived: false }]),
      count: (message) => {
        planned.push(message);
        return of({
          share: 1,
          audience: { gets, waiting: 0, nameless: 0, without: [{ reason: 'already-invited', count: 3 }] },
        });
      },
    };
    const screen = await openScreen(InvitePanel, { event }, [
      { provide: EventsApi, useValue: api },
      { provide: AudienceSource, useValue: source },
    ]);
    await screen.settle();
    const take = async (list: string): Promise<void> => {
      await choose('cv-lists-field input', list, list, screen);
      await screen.settle();
    };
    const isReady = (): boolean =>
      ![...screen.element.querySelectorAll('button')].find((one) =>
        /^(Invite|Publish)/.test(one.textContent?.trim() ?? ''),
      )?.disabled;
    return { ...screen, planned, sent, kept, tried, take, isReady };
  };

  it('counts who gets it and who not, shows the first lines and what was tried, before anything can be sent', async () => {
    const screen = await open();
    const { take, isReady, planned, kept, text, settle } = screen;
    expect(isReady()).toBeFalse();
    await take('Members');
    await take('Press');
    await choose('input[aria-label=Segments]', 'Near', 'Near us', screen);
    await choose('input[aria-label="Left out segments"]', 'Near', 'Near us', screen);
    await settle();
    const whom = { lists: [3, 4], segments: [7], people: [], ...out, exceptSegments: [7] };
    expect(planned.at(-1)).toEqual({ kind: 'invitation', eventId: 1, channel: 'email', ...whom });
    expect(kept.at(-1)).toEqual([1, [3, 4], [7]]);
    expect(text()).toMatch(/12 .*3 .*already/);
    expect(text()).toContain('Come, Ana');
    expect(text()).toContain('Dear Ana, (link)');
    expect(text()).toContain('It answers 404.');
    expect(isReady()).toBeTrue();
  });

  it('takes guests without an entry instead of lists, and says nothing can be sent when nobody is left', async () => {
    const { take, planned, isReady, tick, settle } = await open({}, someEvent(), 0);
    await take('Members');
    await tick('Instead, guests');
    await settle();
    expect(planned.at(-1)).toEqual(jasmine.objectContaining({ lists: [], segments: [], people: [], ...out }));
    expect(isReady()).toBeFalse();
  });

  it('takes what is pasted before it can be sent, and asks for the event anew', async () => {
    const pasted: unknown[][] = [];
    const { type, press, isReady, fixture, said, text } = await open(
      {
        pasteToInvite: (...what: unknown[]) => {
          pasted.push(what);
          return of({ added: 2, already: 0, problems: [{ code: 'bad-address', path: 'line 2' }] });
        },
      },
      someEvent({}, { status: 'draft', toInvite: [{ id: 3, name: 'Members', count: 15, isArchived: false }] }),
    );
    let changed = 0;
    fixture.componentInstance.changed.subscribe(() => (changed += 1));
    expect(isReady()).toBeTrue();
    await type('textarea', 'ana@x.example, bo@x.example\nno address');
    expect(text()).toContain('2 addresses');
    expect(isReady()).toBeFalse();
    await type('input[placeholder^="asked to be"]', ' asked us to ');
    await press('Take these people');
    expect([pasted.map(([, , how]) => how), changed, isReady()]).toEqual([['asked us to'], 1, true]);
    expect(said.at(-1)).toBe('2 people are going to be invited. 1 lines were not taken.');
  });

  it('asks with count, reasons, first lines and what is not right, and sends the number that was seen', async () => {
    const { press, sent, said } = await open(
      {},
      someEvent({}, { status: 'draft', toInvite: [{ id: 3, name: 'Members', count: 15, isArchived: false }] }),
    );
    await press('Publish and invite 12 people');
    const asked = await answerDialog('Send to 12');
    for (const words of [
      'Publish, and invite 12 people?',
      'Come, Ana',
      'Dear Ana',
      'already',
      'Join link: It answers 404.',
    ])
      expect(asked).toContain(words);
    // The number had changed meanwhile: the server asks once more.
    expect(await answerDialog('Send to 240')).toContain('Send to 240 people?');
    expect(sent.map((what) => what.at(-2))).toEqual([
      jasmine.objectContaining({ count: 12 }),
      jasmine.objectContaining({ count: 240 }),
    ]);
    expect([sent[1]?.slice(0, 3), sent[1]?.at(-1)]).toEqual([
      [1, { lists: [3], segments: [], people: [], ...out }, 'email'],
      true,
    ]);
    expect(said).toEqual(['The invitations are going out.']);
  });

  it('sends nothing when the answer is “not yet”, and can be pressed again', async () => {
    const { take, press, sent, said, settle, isReady } = await open();
    await take('Members');
    await press('Invite 12 people');
    await answerDialog('Not yet');
    await settle();
    expect([sent.length, said.length, isReady()]).toEqual([0, 0, true]);
  });

  it('says why it was refused, and keeps the words', async () => {
    const { take, press, write, words, text, settle } = await open({
      invite: () =>
        throwError(() => refusal({ problems: [{ code: 'unknown-field', path: 'body', facts: { name: 'x' } }] })),
    });
    await take('Members');
    await press('Change the words');
    await settle();
    await write('Words of an hour');
    await press('Invite 12 people');
    await answerDialog('Send to 12');
    await settle();
    expect(text()).toContain('There is no merge field “x”.');
    expect(words()).toBe('Words of an hour');
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
    waiting: { email: 0, text: 0 },
    isNoticeUnderWay: false,
    suggestedWording: letter('Changed: {{event.title}}', 'It moves.'),
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

  it('offers the notice where only people on the waitlist know an older version', async () => {
    const { press, sent, text } = await open({ toTell: { email: 0, text: 0 }, waiting: { email: 11, text: 2 } });
    expect(text()).toContain('13 wait for a place and know it as it was: 11 hear by email, 2 by text');
    expect(text()).not.toContain('hold an older version');
    await press('Send the notice');
    await answerDialog('Send to 240');
    expect(sent.length).toBe(2);
  });

  it('sends the notice in the words suggested or typed, after asking above a hundred', async () => {
    const { write, press, sent, said } = await open();
    await write('It moves an hour.');
    await press('Send the notice');
    await answerDialog('Send to 240');
    expect(sent.at(-1)).toEqual([
      1,
      letter('Changed: {{event.title}}', 'It moves an hour.'),
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
    expect(viewed.element.querySelectorAll('button:not(.word)').length).toBe(0);
    TestBed.resetTestingModule();
    const off = await open({}, someEvent({}, { version: 2, status: 'called-off' }));
    expect(off.text()).not.toContain('Call the event off');
  });
});
