import { TestBed } from '@angular/core/testing';
import { of, throwError } from 'rxjs';
import type { CueFields, CuePreview, LiveCount } from '@convite/contract';
import { letter, noAudience } from '@convite/core';
import { EventsApi } from '../api/events';
import { SettingsApi } from '../api/settings';
import { WordingsApi } from '../api/wordings';
import { noAudienceSource, openScreen, refusal, shown, someEvent } from '../testing/screen';
import { AudienceSource } from '../ui/audience/audience-source';
import { Confirm } from '../ui/confirm';
import { WriteToGuests } from './write-to-guests';

const counted: LiveCount = { share: 1, audience: { gets: 41, waiting: 0, nameless: 0, without: [] } };
const preview: CuePreview = {
  dueAt: '2031-06-17T18:30:00.000Z',
  person: { id: 4, name: 'Ana', whyNot: null, leftOutBy: '', waitsUntil: null, zone: 'Europe/Lisbon' },
  message: shown({ subject: 'Will you come, Ana?' }),
  problems: [],
};
const words = (key: string) => letter(`As ${key}`, 'Dear friend');

describe('WriteToGuests', () => {
  const open = async (inputs: object = {}, api: object = {}) => {
    const done: unknown[][] = [];
    const asked: { title: string; text: string }[] = [];
    TestBed.resetTestingModule();
    const screen = await openScreen(WriteToGuests, { event: someEvent(), ...inputs }, [
      {
        provide: EventsApi,
        useValue: {
          previewCue: () => of(preview),
          writeToGuests: (...what: unknown[]) => {
            done.push(['write', ...what.slice(1, 3)]);
            return of(null);
          },
          saveCue: (...what: unknown[]) => {
            done.push(['save', ...what.slice(1)]);
            return of({ id: 7 });
          },
          ...api,
        },
      },
      { provide: SettingsApi, useValue: { get: () => of({ topics: [] }) } },
      { provide: WordingsApi, useValue: { begin: (key: string) => of({ wording: words(key) }) } },
      { provide: AudienceSource, useValue: { ...noAudienceSource, count: () => of(counted) } },
      {
        provide: Confirm,
        useValue: {
          ask: (question: { title: string; text: string }) => {
            asked.push(question);
            return of(true);
          },
          sendAsking: (send: (sending: object) => unknown, _: string, count: number) => send({ count, key: 'k' }),
        },
      },
    ]);
    const pause = async (): Promise<void> => {
      await new Promise((next) => setTimeout(next, 300));
      await screen.settle();
    };
    const whom = async (slice: string): Promise<void> => {
      const box = screen.element.querySelector<HTMLSelectElement>('[aria-label="To whom"]');
      if (!box) throw new Error('nobody can be chosen');
      box.value = slice;
      box.dispatchEvent(new Event('change'));
      await pause();
    };
    await pause();
    return { ...screen, done, asked, pause, whom };
  };
  const silent = { ...noAudience, invitees: ['needs-action'] } as unknown as CueFields['audience'];

  it('is two presses from Guests: begins with who has not answered, in their thread, and asks with what one of them reads', async () => {
    const { press, text, done, asked, said } = await open();
    expect(text()).toContain('41 people get this');
    await press('Send to 41 people');
    expect(asked[0]?.title).toBe('Send to 41 people?');
    expect(asked[0]?.text).toContain('Will you come, Ana?');
    expect(done).toEqual([
      ['write', { channel: 'email', audience: silent, wording: words('remind'), date: '', inThread: true }, 41],
    ]);
    expect(said.at(-1)).toContain('It is going out');
  });

  it('says what the second invitation leaves out, and begins with words that name the deadline where there is one', async () => {
    const counts = { accepted: 219, tentative: 54, declined: 126, 'needs-action': 181 };
    const registration = { places: 9, closesMinutes: 0, confirms: true };
    const { whom, text, press, done } = await open({ counts, event: someEvent({ registration }) });
    await whom('second');
    expect(text()).toContain('The first went to 580 people. Of them 219 said yes and 126 said no');
    await press('Send to 41 people');
    expect(done[0]?.[1]).toEqual(jasmine.objectContaining({ wording: words('secondInvitation') }));
    const without = await open({ counts });
    await without.whom('second');
    await without.press('Send to 41 people');
    expect(without.done[0]?.[1]).toEqual(jasmine.objectContaining({ wording: words('remind') }));
  });

  it('keeps what was typed when others are chosen, leaves the thread where it is about no invitation, and begins with who was picked', async () => {
    const { whom, write, press, done } = await open();
    await write('Bring a coat.');
    await whom('attended');
    await press('Send to 41 people');
    expect(done[0]?.[1]).toEqual(
      jasmine.objectContaining({ audience: { ...noAudience, came: ['attended'] }, wording: jasmine.anything() }),
    );
    expect(JSON.stringify(done[0]?.[1])).toContain('Bring a coat.');
    expect(JSON.stringify(done[0]?.[1])).not.toContain('inThread');
    const picked = await open({ picked: [3, 5] });
    expect(picked.text()).toContain('the 2 guests you picked');
    await picked.press('Send to 41 people');
    expect(picked.done[0]?.[1]).toEqual(jasmine.objectContaining({ audience: { ...noAudience, people: [3, 5] } }));
  });

  it('waits for a time where it does not go now, and says what is refused without losing what was typed', async () => {
    const { press, element } = await open();
    await press('at a time');
    const set = [...element.querySelectorAll('button')].find((one) => one.textContent?.includes('Set it'));
    expect(set?.disabled).toBeTrue();
    const fails = { writeToGuests: () => throwError(() => refusal({ detail: 'Ana holds all of this event.' })) };
    const refused = await open({}, fails);
    await refused.press('Send to 41 people');
    expect(refused.text()).toContain('Ana holds all of this event.');
    expect(refused.element.textContent).toContain('Send to 41 people');
  });
});
