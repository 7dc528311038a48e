import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { EMPTY, of } from 'rxjs';
import {
  nobodyChosen,
  type AudienceCount as Count,
  type ShownMessage,
  type ChosenPeople,
  type CountedMessage,
  type List,
} from '@convite/contract';
import { letter, plainDocument, type WordingDocument } from '@convite/core';
import { AudienceCount, type PeopleBehind } from '../ui/audience/audience-count';
import { AudienceEditor } from '../ui/audience/audience-editor';
import { AudienceSource } from '../ui/audience/audience-source';
import { ChartFrame } from '../ui/chart/chart-frame';
import { EventState } from '../ui/event-state';
import { Conflict } from '../ui/form/conflict';
import { FormBar } from '../ui/form/form-bar';
import { Section } from '../ui/form/section';
import { ListsField } from '../ui/lists-field';
import { Toast } from '../ui/toast';
import { OurWord } from '../ui/word';
import { Fold } from '../ui/fold';
import { ClockField } from '../ui/time/clock-field';
import { optionsOf, Toggle } from '../ui/toggle';
import { AsRead } from '../ui/wording/as-read';
import { WordingSource } from '../ui/wording/wording-source';
import { WordingEditor } from '../ui/wording/wording-editor';

const height = 80;

const lists: readonly List[] = [
  { id: 1, name: 'Night sky news', count: 1289, isArchived: false },
  { id: 2, name: 'Members', count: 240, isArchived: false },
  {
    id: 3,
    name: 'A list whose name goes on and on until nobody reads it any more',
    count: 1_000_000,
    isArchived: false,
  },
];
const count: Count = {
  waiting: 12,
  nameless: 3,
  gets: 4312,
  without: [
    { reason: 'opted-out', count: 101 },
    { reason: 'bounced', count: 87 },
  ],
};
const inventedAudience: AudienceSource = {
  lists: () => of(lists),
  segments: () => of([{ id: 9, name: 'Watches from afar', count: 820, isArchived: false }]),
  count: () => of({ share: 1, audience: count }),
  behind: () => of({ rows: [], next: null }),
};

const inventedWordings: WordingSource = {
  askLinks: (addresses) =>
    of(
      addresses.map((address, index) => ({
        address,
        isGood: index > 0,
        said: index ? 'It answers.' : 'It answers 404 instead of a page.',
      })),
    ),
  offered: () => of([{ key: 'tomorrow', name: 'Tomorrow', about: '' }]),
  pictures: () => of({ rows: [], next: null }),
  addPicture: () => EMPTY,
  topics: () => of(['moon', 'planets']),
  houseBlocks: () => of([{ key: 'own-2', name: 'How to find us' }]),
  sendTest: ({ to }) => of({ sent: 1, to, refused: [] }),
  begin: () => of({ wording: letter('Tomorrow: {{event.title}}', 'Until tomorrow!') }),
};
const readMail: ShownMessage = {
  channel: 'email',
  from: 'Serra da Bruma Observatory',
  subject:
    'A subject that goes on and on, and of which a telephone shows less than half, so that nobody learns what it is about',
  preheader: 'Bring a coat, and something warm to drink',
  html: '<p style="font-family:Georgia,serif;padding:20px">Dear Ana, <a href="https://a.example">see you there</a>.</p>',
  text: 'Dear Ana, see you there (https://a.example).',
  octets: 123_456,
  textPrice: null,
  samples: {},
  findings: [
    { code: 'long-subject', path: 'subject', facts: { characters: 118 } },
    { code: 'too-large', path: 'body', facts: { octets: 123_456 } },
    { code: 'other-time', path: 'body', facts: { written: '19:00', start: '19:30', end: '22:00' } },
  ],
};
const readText: ShownMessage = {
  ...readMail,
  ...{ channel: 'text', from: 'SERRA', subject: '', preheader: '', html: '', octets: 60, findings: [] },
  text: 'Tomorrow: Open Dome Friday, 20:30, dome 1. STOP ends these texts.',
  textPrice: { perPart: 0.06, currency: 'EUR' },
};

/** Pieces of forms, counts and charts, in their states. */
@Component({
  selector: 'cv-kit-forms',
  imports: [
    AsRead,
    AudienceCount,
    AudienceEditor,
    ChartFrame,
    ClockField,
    Conflict,
    EventState,
    Fold,
    FormBar,
    ListsField,
    MatFormFieldModule,
    MatInputModule,
    OurWord,
    Section,
    Toggle,
    WordingEditor,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './kit-forms.html',
  providers: [
    { provide: AudienceSource, useFactory: () => inventedAudience },
    { provide: WordingSource, useFactory: () => inventedWordings },
  ],
})
export class KitForms {
  private readonly toast = inject(Toast);
  protected readonly height = height;
  protected readonly isBusy = signal(false);
  protected readonly views = optionsOf(['entry', 'email', 'links']);
  protected readonly view = signal('email');
  protected readonly lists = lists;
  protected readonly readMail = readMail;
  protected readonly readText = readText;
  protected readonly tried = {
    kind: 'manual',
    channel: 'email',
    wording: letter('', ''),
    eventId: null,
    personId: null,
  } as const;
  protected readonly linked = letter('', 'See https://gone.example and https://here.example');
  protected readonly chosen = signal<readonly number[]>([1, 3]);
  protected readonly count = count;
  protected readonly behind: PeopleBehind = (_reason, after) =>
    of({
      rows: Array.from({ length: 30 }, (_, index) => ({
        id: after + index + 1,
        name: `Somebody ${after + index + 1}`,
        email: `somebody${after + index + 1}@people.example`,
        mobile: '',
      })),
      next: after < 90 ? after + 30 : null,
    });
  protected readonly whom = signal<ChosenPeople>({ ...nobodyChosen, lists: [1], exceptLists: [2] });
  protected readonly wording = signal<WordingDocument>(
    letter(
      'See you at {{event.title}}',
      'Dear {{person.firstName|friend}},\n\n- a coat\n- a lamp\n\nThis field is none: {{nobody}}.',
      { kind: 'event' },
      { kind: 'reply' },
      { kind: 'button', label: 'All about it', address: { kind: 'field', field: 'link.event', fallback: '' } },
    ),
  );
  protected readonly typedText = signal(plainDocument('', 'Clear skies? {{event.title}} starts {{event.time}}. łódź'));
  protected readonly message: CountedMessage = { kind: 'manual', channel: 'email', ...nobodyChosen };
  protected readonly at = signal<number | null>(null);
  protected readonly heads = ['Day', 'messages'];
  protected readonly points = [12, 40, 7, 0, 93, 31, 55].map((value, index) => ({
    label: `Day ${index + 1}`,
    values: [value],
  }));

  protected bars(width: number) {
    const x = scaleBand(
      this.points.map(({ label }) => label),
      [0, width],
    ).padding(0.3);
    const y = scaleLinear([0, max(this.points, ({ values }) => values[0] ?? 0) ?? 1], [0, height - 4]);
    return this.points.map(({ label, values }) => {
      const tall = y(values[0] ?? 0);
      return { label, x: x(label) ?? 0, width: x.bandwidth(), y: height - tall, tall };
    });
  }
  protected save(): void {
    this.isBusy.set(true);
    setTimeout(() => this.isBusy.set(false), 1500);
  }
  protected undoable(): void {
    this.toast.offerUndo('Twelve guests removed.', () => this.toast.say('They are back.'));
  }
}
