import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { RouterLink } from '@angular/router';
import { listFields, type List, type ListFields } from '@convite/contract';
import { isSame } from '@convite/core';
import * as z from 'zod';
import { AudienceApi } from '../api/audience';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { followStored } from '../ui/form/follow-stored';
import { Meanwhile, type PartWords } from '../ui/form/meanwhile';
import { keepTyped } from '../ui/form/unsaved';
import { Panel } from '../ui/panel';
import { sayCount } from '../ui/say';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { GrowthChart } from './growth-chart';
import { PourListPanel } from './pour-list';

const blank: ListFields = { name: '', description: '', isArchived: false };
/** What is typed may not be whole yet. */
const typedList = listFields.extend({ name: z.string().max(120), description: z.string().max(500) });
const kept = z.object({ base: typedList, value: typedList });

const words: PartWords<ListFields, keyof ListFields> = {
  parts: { name: ['name'], description: ['description'], isArchived: ['isArchived'] },
  names: { name: 'Name', description: 'What it is for', isArchived: 'Put away' },
  say: (list, part) => (part === 'isArchived' ? (list.isArchived ? 'put away' : 'in use') : list[part] || 'nothing'),
};

/** One list: its name, what it is for, how it grew over a year, and what uses it. */
@Component({
  selector: 'cv-list-panel',
  imports: [
    FieldProblem,
    GrowthChart,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    Meanwhile,
    Panel,
    PourListPanel,
    RouterLink,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-panel [label]="list()?.name ?? 'A list'" (closed)="closed.emit()">
      @if (list(); as it) {
        <section class="stack loose">
          <cv-meanwhile what="list" [words]="words" [followed]="followed" [mine]="edit()" (settled)="clear()" />
          <p>{{ people() }}{{ it.isArchived ? ' · put away: offered for nothing new' : '' }}</p>
          <cv-growth-chart [growth]="it.growth" />
          <form class="stack" (submit)="save($event)">
            <div>
              <mat-form-field subscriptSizing="dynamic"
                ><mat-label>Name</mat-label
                ><input
                  matInput
                  maxlength="120"
                  [readonly]="!session.canMarket()"
                  [value]="edit().name"
                  (input)="change({ name: typed($event) })"
              /></mat-form-field>
              <cv-field-problem [problems]="problems()" path="name" />
            </div>
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>What it is for</mat-label
              ><textarea
                matInput
                rows="3"
                dir="auto"
                maxlength="500"
                [readonly]="!session.canMarket()"
                [value]="edit().description"
                (input)="change({ description: typed($event) })"
              ></textarea>
            </mat-form-field>
            @if (problem()) {
              <p class="note alarm" role="alert">{{ problem() }}</p>
            }
            @if (session.canMarket()) {
              <div class="row">
                <button matButton="filled" [disabled]="!followed.isChanged()">Save</button>
                <button matButton type="button" (click)="putAway(!it.isArchived)">
                  {{ it.isArchived ? 'Take it out again' : 'Put it away' }}
                </button>
              </div>
            }
          </form>
          @if (session.canMarket()) {
            <cv-pour-list [listId]="listId()" [lists]="lists()" (done)="saved.emit()" />
          }
          <section class="stack tight" aria-label="What uses it">
            <h3>What uses it</h3>
            @if (it.cues.length + it.digests.length === 0) {
              <p class="quiet">No cue and no digest.</p>
            }
            <ul class="small">
              @for (digest of it.digests; track digest.id) {
                <li>
                  <a routerLink="/digests" [queryParams]="{ digest: digest.id }">{{ digest.name }}</a> · digest
                </li>
              }
              @for (cue of it.cues; track cue.id) {
                <li>
                  <a [routerLink]="['/events', cue.eventId, 'countdown']" [queryParams]="{ cue: cue.id }">{{
                    cue.name
                  }}</a>
                  · cue
                </li>
              }
              @if (it.hasMoreCues) {
                <li class="quiet">and older cues</li>
              }
            </ul>
          </section>
        </section>
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">This list cannot be read just now, or is not there any more.</p>
      } @else {
        <p class="quiet" role="status">Reading …</p>
      }
    </cv-panel>
  `,
  styles: `
    ul {
      margin: 0;
      padding-left: 18px;
    }
  `,
})
export class ListPanel {
  protected readonly typed = typed;
  protected readonly words = words;
  private readonly api = inject(AudienceApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly listId = input.required<number>();
  readonly lists = input<readonly List[]>([]);
  readonly closed = output();
  readonly saved = output();
  protected readonly resource = rxResource({
    params: () => this.listId(),
    stream: ({ params }) => this.api.list(params),
  });
  protected readonly list = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));
  protected readonly people = computed(() => sayCount(this.list()?.count ?? 0, 'person', 'people'));
  private readonly stored = computed(
    () => {
      const list = this.list();
      return list && { name: list.name, description: list.description, isArchived: list.isArchived };
    },
    { equal: isSame },
  );
  protected readonly edit = signal<ListFields>(blank);
  protected readonly followed = followStored(this.stored, {
    typed: this.edit,
    show: (edit) => this.edit.set(edit),
  });
  protected readonly problem = signal('');
  protected readonly problems = signal<ReturnType<typeof problemsOf>>([]);

  constructor() {
    keepTyped({
      key: () => (this.followed.base() ? `list.${this.listId()}` : ''),
      value: computed(() => ({ base: this.followed.base() ?? blank, value: this.edit() })),
      isChanged: this.followed.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => this.followed.restore(before),
    });
    reloadOn(
      () => ['subscribers'],
      () => this.resource.reload(),
    );
  }

  protected clear(): void {
    this.problem.set('');
    this.problems.set([]);
  }
  protected change(part: Partial<ListFields>): void {
    this.edit.update((edit) => ({ ...edit, ...part }));
  }
  protected save(submit: Event): void {
    submit.preventDefault();
    this.send(this.edit(), 'Saved.');
  }
  protected putAway(isArchived: boolean): void {
    const base = this.followed.base();
    if (base) this.send({ ...base, isArchived }, isArchived ? 'It is put away.' : 'It can be chosen again.');
  }
  private send(fields: ListFields, said: string): void {
    const was = this.followed.base();
    this.api.changeList(this.listId(), { ...fields, ...(was && { was }) }).subscribe({
      next: () => {
        this.clear();
        this.followed.wasSaved(fields);
        this.change({ isArchived: fields.isArchived });
        this.toast.say(said);
        this.resource.reload();
        this.saved.emit();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
        // Somebody may have saved meanwhile: then both are shown.
        this.resource.reload();
      },
    });
  }
}
