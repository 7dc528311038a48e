import type { EnvironmentProviders, Provider, Type } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { Editor } from '@tiptap/core';
import { EMPTY, of } from 'rxjs';
import type { EventDetail, OccurrenceRow, ProblemDetails, ShownMessage } from '@convite/contract';
import { blankFacts, occurrencesBetween, type EventFacts } from '@convite/core';
import { Live } from '../api/live';
import { SendersApi } from '../api/senders';
import { Session } from '../api/session';
import { Refused, sayError } from '../refused';
import { AudienceSource } from '../ui/audience/audience-source';
import { PeopleSearch } from '../ui/people-search';
import { Toast } from '../ui/toast';
import { WordingSource } from '../ui/wording/wording-source';

/** A component as its user meets it: by the words on it. */
export interface Screen<T> {
  readonly fixture: ComponentFixture<T>;
  readonly element: HTMLElement;
  /** What was said at the foot of the screen. */
  readonly said: string[];
  /** Presses Undo of what was said last. */
  undo(): void;
  text(): string;
  find<E extends HTMLElement = HTMLInputElement>(selector: string): E;
  /** Presses the first button that says this. */
  press(words: string): Promise<void>;
  /** Ticks the first checkbox that says this, or takes the tick off. */
  tick(words: string): Promise<void>;
  type(selector: string, text: string, event?: 'input' | 'change'): Promise<void>;
  /** What stands in the editor of an email, and puts other words there as somebody would who types. */
  words(): string;
  write(words: string): Promise<void>;
  settle(): Promise<void>;
}

/** Nothing to choose from, and nobody counted; specs put in what they need. */
export const noAudienceSource: AudienceSource = {
  lists: () => of([]),
  segments: () => of([]),
  count: () => EMPTY,
  behind: () => EMPTY,
};

/** A message as somebody reads it. */
export const shown = (over: Partial<ShownMessage> = {}): ShownMessage => ({
  channel: 'email',
  from: 'Serra da Bruma',
  subject: 'Tomorrow: Dome night',
  preheader: 'Bring a coat',
  html: '<p>See you.</p>',
  text: 'See you.',
  octets: 5678,
  textPrice: null,
  findings: [],
  samples: {},
  ...over,
});

/** Nobody to ask. */
export const noWordingSource: WordingSource = {
  askLinks: () => EMPTY,
  offered: () => of([]),
  begin: () => EMPTY,
  sendTest: () => EMPTY,
  pictures: () => EMPTY,
  addPicture: () => EMPTY,
  houseBlocks: () => of([]),
  topics: () => of([]),
};

/** Opens a component with its inputs, stand-ins for what it asks, and a marketer at the keys. */
export async function openScreen<T>(
  component: Type<T>,
  inputs: Readonly<Record<string, unknown>>,
  providers: (Provider | EnvironmentProviders)[] = [],
  canMarket = true,
): Promise<Screen<T>> {
  sessionStorage.clear();
  const said: string[] = [];
  const undone: (() => void)[] = [];
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      { provide: Live, useValue: { changesOf: () => EMPTY } },
      { provide: AudienceSource, useValue: noAudienceSource },
      { provide: WordingSource, useValue: noWordingSource },
      { provide: SendersApi, useValue: { list: () => of([]) } },
      { provide: PeopleSearch, useValue: { find: () => of([]), named: () => of([]) } },
      {
        provide: Session,
        useValue: {
          canMarket: () => canMarket,
          me: () => ({ organisation: { zone: 'Europe/Lisbon' }, hasBackstage: true }),
          zone: () => 'Europe/Lisbon',
          saySent: (words: string) => words,
          load: () => EMPTY,
        },
      },
      {
        provide: Toast,
        useValue: {
          say: (words: string) => said.push(words),
          offerUndo: (words: string, undo: () => void) => {
            said.push(words);
            undone.push(undo);
          },
          fail: (error: unknown) => said.push(sayError(error)),
        },
      },
      ...providers,
    ],
  });
  const fixture = TestBed.createComponent(component);
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  const element = fixture.nativeElement as HTMLElement;
  const settle = async (): Promise<void> => {
    fixture.detectChanges();
    await fixture.whenStable();
    fixture.detectChanges();
  };
  const find = <E extends HTMLElement>(selector: string): E => {
    const found = element.querySelector<E>(selector);
    if (!found) throw new Error(`nothing is ${selector} in: ${element.textContent}`);
    return found;
  };
  await settle();
  return {
    fixture,
    element,
    said,
    undo: () => undone.pop()?.(),
    settle,
    find,
    words: () => find('.ProseMirror').textContent,
    async write(words) {
      const editor: unknown = Reflect.get(find('.ProseMirror'), 'editor');
      if (!(editor instanceof Editor)) throw new Error('no editor there');
      editor.commands.setContent(words, { emitUpdate: true });
      await settle();
    },
    text: () => (element.textContent ?? '').replace(/\s+/g, ' '),
    async press(words) {
      const button = [...element.querySelectorAll('button')].find((one) => one.textContent?.trim().startsWith(words));
      if (!button) throw new Error(`no button ${words} in: ${element.textContent}`);
      button.click();
      await settle();
    },
    async tick(words) {
      const box = [...element.querySelectorAll('mat-checkbox')].find((one) => one.textContent?.includes(words));
      const field = box?.querySelector('input');
      if (!field) throw new Error(`no checkbox ${words} in: ${element.textContent}`);
      field.click();
      await settle();
    },
    async type(selector, text, event = 'input') {
      const field = find<HTMLInputElement>(selector);
      field.value = text;
      field.dispatchEvent(new Event(event));
      await settle();
    },
  };
}

/** Lets typing rest until it is asked about. */
export async function rest(settle: () => Promise<void>): Promise<void> {
  await settle();
  await new Promise((done) => setTimeout(done, 200));
  await settle();
}

/** Types into a chooser, and takes the choice that says so. */
export async function choose(
  field: string,
  text: string,
  choice: string,
  { element, settle }: Pick<Screen<unknown>, 'element' | 'settle'>,
): Promise<void> {
  const input = element.querySelector<HTMLInputElement>(field);
  if (!input) throw new Error(`no ${field}`);
  input.focus();
  input.dispatchEvent(new Event('focusin'));
  input.value = text;
  input.dispatchEvent(new Event('input'));
  await rest(settle);
  await rest(settle);
  const option = [...document.querySelectorAll<HTMLElement>('mat-option')].find((one) =>
    one.textContent?.includes(choice),
  );
  if (!option) throw new Error(`nothing offered is ${choice}`);
  option.click();
  await settle();
}

/** A refusal as the server words it. */
export const refusal = (details: Partial<ProblemDetails>): Refused =>
  new Refused({
    type: 'urn:convite',
    title: 'problems',
    status: 422,
    detail: 'Some of this cannot be used.',
    ...details,
  });

export const someFacts: EventFacts = {
  ...blankFacts,
  title: 'Dome night',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
  venue: 'Dome',
};

export const someEvent = (facts: Partial<EventFacts> = {}, over: Partial<EventDetail> = {}): EventDetail => ({
  id: 1,
  uid: 'u@x',
  reach: 'public',
  senderId: null,
  heldBy: null,
  graceMinutes: null,
  contact: { email: '', mobile: '' },
  status: 'published',
  version: 1,
  sequence: 0,
  startAt: '2031-06-18T18:30:00.000Z',
  endAt: '2031-06-18T21:00:00.000Z',
  pageUrl: 'http://x',
  feedUrl: 'http://x/feed',
  invited: 3,
  toInvite: [],
  toInviteSegments: [],
  facts: { ...someFacts, ...facts },
  ...over,
});

/** The dates of an event over five weeks of June and July 2031. */
export const datesOf = ({ facts }: EventDetail): OccurrenceRow[] =>
  occurrencesBetween(facts, Date.UTC(2031, 5, 1), Date.UTC(2031, 6, 20)).map((one) => ({
    key: one.key,
    startAt: new Date(one.startMs).toISOString(),
    endAt: new Date(one.endMs).toISOString(),
    facts: one.facts,
    calledOff: one.calledOff,
    isChanged: one.isChanged,
    replies: { 'needs-action': 0, accepted: 0, tentative: 0, declined: 0 },
  }));
