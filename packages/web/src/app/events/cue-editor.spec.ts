import { TestBed } from '@angular/core/testing';
import { Subject, of, throwError } from 'rxjs';
import type { CueFields, LiveCount } from '@convite/contract';
import { letter, plainDocument } from '@convite/core';
import { EventsApi } from '../api/events';
import { cuePreview, cueProviders, someFields } from '../testing/cues';
import { noAudienceSource, openScreen, refusal } from '../testing/screen';
import { AudienceSource } from '../ui/audience/audience-source';
import { CueEditor } from './cue-editor';

const said = (words: string): CueFields['wording'] => ({ ...letter('', words), subject: someFields.wording.subject });

describe('CueEditor', () => {
  const open = (
    api: Partial<Record<keyof EventsApi, unknown>> = {},
    over: Partial<CueFields> = {},
    source: AudienceSource | null = null,
  ) => {
    const saved: unknown[][] = [];
    const saveCue = (...what: unknown[]) => {
      saved.push(what);
      return of({ id: 7 });
    };
    return openScreen(CueEditor, { eventId: 1, cueId: 7, fields: { ...someFields, ...over }, zone: 'Europe/Lisbon' }, [
      ...cueProviders,
      { provide: EventsApi, useValue: { previewCue: () => of(cuePreview), saveCue, ...api } },
      ...(source ? [{ provide: AudienceSource, useValue: source }] : []),
    ]).then((screen) => ({ ...screen, saved }));
  };
  /** The preview waits for a pause in typing. */
  const pause = () => new Promise((done) => setTimeout(done, 300));

  it('counts while one looks, with how far it is; words may change without counting anew, and a newer count ends the older', async () => {
    const counts: Subject<LiveCount>[] = [];
    const countCue = () => {
      const count = new Subject<LiveCount>();
      counts.push(count);
      return count;
    };
    const { text, settle, type } = await open({}, {}, { ...noAudienceSource, count: countCue });
    await pause();
    counts[0]?.next({ share: 0.5, audience: { gets: 20, waiting: 0, nameless: 0, without: [] } });
    await settle();
    expect(text()).toContain('20 people get this so far');
    await type('input[matinput]', 'Another name');
    await pause();
    expect(counts.length).toBe(1);
    await type('input[type=number]', '3');
    await pause();
    expect([counts.length, counts[0]?.observed]).toEqual([2, false]);
    counts[1]?.next({ share: 1, audience: { gets: 40, waiting: 0, nameless: 0, without: [] } });
    await settle();
    expect(text()).toContain('40 people get this.');
  });

  it('shows what a person would get and who does not get it, because, and what is wrong with the moment', async () => {
    const { text, settle } = await open();
    await pause();
    await settle();
    expect(text()).toContain('Tomorrow: Dome night');
    expect(text()).toContain('40');
    expect(text()).toMatch(/2 .*bounce/);
    expect(text()).toContain('at least 10 minutes ahead');
  });

  it('counts a text as it is typed, with the characters that cost most', async () => {
    const { press, text, type } = await open({}, { wording: plainDocument('', 'a'.repeat(155)) });
    await press('text');
    expect(text()).toContain('155 of 160 septets, GSM 7-bit, 1 part as typed');
    await type('textarea', `${'a'.repeat(155)}ł`);
    expect(text()).toContain('UCS-2, 3 parts');
    expect(text()).toContain('Without ł more would fit');
  });

  it('goes as a text to who can be texted and else by email: both are worded, and what is wrong behind the other words is said', async () => {
    const tooMuch = () => throwError(() => refusal({ problems: [{ code: 'required', path: 'text.body', facts: {} }] }));
    const typedWords = plainDocument(someFields.wording.subject, 'Tomorrow!');
    const previewed: CueFields[] = [];
    const previewCue = (_: number, asked: CueFields) => {
      previewed.push(asked);
      return of(cuePreview);
    };
    const { press, text, type, saved, settle } = await open({ previewCue });
    await press('text, else email');
    await press('Words of the text');
    await type('textarea', 'Tomorrow!');
    await pause();
    await settle();
    expect([previewed.at(-1)?.channel, previewed.at(-1)?.wording]).toEqual(['text', typedWords]);
    await press('Set the cue');
    expect(saved.at(-1)?.[2]).toEqual({
      ...someFields,
      audience: { ...someFields.audience, exceptTextable: true },
      textWording: typedWords,
      was: someFields,
    });
    await press('email');
    await press('Set the cue');
    expect(saved.at(-1)?.[2]).toEqual({ ...someFields, was: someFields });
    TestBed.resetTestingModule();
    const refused = await open({ saveCue: tooMuch }, { textWording: plainDocument('', '') });
    await refused.press('Set the cue');
    expect(refused.text()).toContain('Look at the words of the text too.');
    expect(text()).not.toContain('Look at the words');
  });

  it('does something instead of writing: no words, for nobody in particular where it is done once; its words come back', async () => {
    const { press, type, saved, text, element } = await open({
      actChoices: () =>
        of({ lists: [{ id: 3, name: 'Friends' }], fields: [], members: [{ id: 2, name: 'Ana' }], webhooks: [] }),
    });
    await press('a task');
    expect(element.querySelectorAll('cv-wording-editor, cv-cue-preview').length).toBe(0);
    await type('select[aria-label="List"]', '3', 'change');
    expect(element.querySelector('cv-cue-audience')).not.toBeNull();
    await press('Set the cue');
    expect(saved.at(-1)?.[2]).toEqual({ ...someFields, act: { kind: 'join', list: 3 }, was: someFields });
    await type('select[aria-label="What it does"]', 'task', 'change');
    expect(element.querySelector('cv-cue-audience')).toBeNull();
    expect(text()).toContain('What is to be done');
    await press('email');
    await press('Set the cue');
    expect(saved.at(-1)?.[2]).toEqual({ ...someFields, was: someFields });
  });

  it('names a field that does not exist as one types', async () => {
    const { write, text } = await open();
    await write('Dear {{person.fristName}}');
    expect(text()).toContain('person.fristName');
  });

  it('sets it or keeps it as a draft, with what was typed', async () => {
    const { press, type, saved, said } = await open();
    await type('input[matinput]', 'Day before');
    await press('Keep as a draft');
    await press('Set the cue');
    expect(saved).toEqual([
      [1, 7, { ...someFields, name: 'Day before', isDraft: true, was: someFields }],
      [1, 7, { ...someFields, name: 'Day before', isDraft: false, was: someFields }],
    ]);
    expect(said.at(-1)).toBe('The cue is set.');
  });

  it('reminds of registration: counted from its close, leaving out whoever said yes', async () => {
    const { press, type, find, settle, saved } = await open();
    await type('select[aria-label="Of what"]', 'deadline', 'change');
    find('[aria-label="Leaving out whoever said yes"]').click();
    await settle();
    await press('Set the cue');
    const [[, , set] = []] = saved;
    expect(set).toEqual({
      ...someFields,
      moment: { ...someFields.moment, anchor: 'deadline' },
      audience: { ...someFields.audience, exceptReplies: ['accepted'] },
      isDraft: false,
      was: someFields,
    });
  });

  it('shows what somebody else saved meanwhile beside what is typed, loses neither, and puts them together', async () => {
    const { fixture, press, write, words, settle, text, saved } = await open();
    await write('Words of an hour');
    const theirs = { ...someFields, name: 'The day before', wording: said('Theirs.') };
    fixture.componentRef.setInput('fields', theirs);
    await settle();
    expect(words()).toBe('Words of an hour');
    expect(text()).toContain('Somebody saved this cue meanwhile');
    expect(text()).toContain('Both changed: words.');
    await press('Put mine on top of it');
    expect(text()).not.toContain('meanwhile');
    await press('Set the cue');
    expect(saved).toEqual([
      [1, 7, { ...someFields, name: 'The day before', wording: said('Words of an hour'), was: theirs }],
    ]);
  });

  it('follows what others save for as long as nothing is typed', async () => {
    const { fixture, words, settle, text } = await open();
    fixture.componentRef.setInput('fields', { ...someFields, wording: said('Theirs.') });
    await settle();
    expect(words()).toBe('Theirs.');
    expect(text()).not.toContain('meanwhile');
  });

  it('keeps what was typed when it is refused, and says where', async () => {
    const { press, write, words, find, text } = await open({
      saveCue: () => throwError(() => refusal({ problems: [{ code: 'required', path: 'name', facts: {} }] })),
    });
    await write('Words of an hour');
    await press('Set the cue');
    expect(text()).toContain('Some of this cannot be used.');
    expect(find('cv-field-problem').textContent).toContain('This must be filled in.');
    expect(words()).toBe('Words of an hour');
  });
});
