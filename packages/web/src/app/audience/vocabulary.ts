import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { RouterLink } from '@angular/router';
import { fieldTypes, type FieldType } from '@convite/core';
import type { Observable } from 'rxjs';
import type { Vocabulary } from '@convite/contract';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { VocabularyApi } from '../api/vocabulary';
import { sayError } from '../refused';
import { Confirm } from '../ui/confirm';
import { ReadingProblem } from '../ui/reading-problem';
import { sayNumber } from '../ui/say';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';
import { Toast } from '../ui/toast';
import { chosenOf, typed } from '../ui/typed';

const typeWords: Readonly<Record<FieldType, string>> = {
  text: 'text',
  number: 'number',
  date: 'date',
  'date-time': 'date and time',
  choice: 'one of some',
  'yes-no': 'yes or no',
};

/** What people are told apart by beside lists, in one place: fields and topics, with what would miss them. */
@Component({
  selector: 'cv-vocabulary',
  imports: [Cell, MatButtonModule, MatFormFieldModule, MatInputModule, ReadingProblem, RouterLink, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Fields and topics</h1>
        <span class="quiet">what people are told apart by, beside lists</span>
        <a class="push" matButton routerLink="/audience">Back to the audience</a>
      </div>
      <cv-reading-problem [of]="all" what="The fields and topics" />
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
      <section class="sheet stack" aria-label="Fields">
        <h2>Fields</h2>
        <cv-table label="Fields" [source]="fields" [columns]="fieldColumns">
          <span empty>None yet. A file brings its own, or make one here.</span>
          <ng-template cvCell="name" [cvCellOf]="fields" let-row>
            @if (renaming() === row.id) {
              <form class="row" (submit)="rename($event, row.id, name.value)">
                <mat-form-field class="inline" subscriptSizing="dynamic"
                  ><input
                    matInput
                    #name
                    aria-label="Name of the field"
                    maxlength="60"
                    [value]="row.name" /></mat-form-field
                ><button matButton="outlined">Rename</button>
                <button class="link small" type="button" (click)="renaming.set(null)">Leave it</button>
              </form>
            } @else {
              <strong class="rtl-safe">{{ row.name }}</strong>
            }
          </ng-template>
          <ng-template cvCell="type" [cvCellOf]="fields" let-row>{{ typeWords[row.type] }}</ng-template>
          <ng-template cvCell="used" [cvCellOf]="fields" let-row>
            <span class="small quiet">{{ sayUse(row.usedBy) }}</span>
          </ng-template>
          <ng-template cvCell="acts" [cvCellOf]="fields" let-row>
            @if (session.canMarket()) {
              <span class="row">
                <button class="link" type="button" (click)="renaming.set(row.id)">Rename</button>
                <button class="link" type="button" (click)="removeField(row.id, row.name)">Take out …</button>
              </span>
            }
          </ng-template>
        </cv-table>
        @if (emptied() !== null) {
          <p class="small quiet" role="status">{{ sayNumber(emptied() ?? 0) }} values are taken out …</p>
        }
        @if (session.canMarket()) {
          <form class="row" (submit)="addField($event, field)">
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><input
                matInput
                #field
                aria-label="Name of a new field"
                placeholder="New field"
                maxlength="60" /></mat-form-field
            ><mat-form-field class="inline" subscriptSizing="dynamic"
              ><select matNativeControl aria-label="What it holds" (change)="choose($event)">
                @for (one of types; track one) {
                  <option [value]="one" [selected]="type() === one">{{ typeWords[one] }}</option>
                }
              </select></mat-form-field
            ><button matButton="outlined">Make</button>
          </form>
        }
      </section>
      <section class="sheet stack" aria-label="Topics">
        <h2>Topics</h2>
        <cv-table label="Topics" [source]="topics" [columns]="topicColumns">
          <span empty>None yet. People choose among them what they want to hear about.</span>
          <ng-template cvCell="topic" [cvCellOf]="topics" let-row
            ><strong class="rtl-safe">{{ row.topic }}</strong></ng-template
          >
          <ng-template cvCell="used" [cvCellOf]="topics" let-row>
            <span class="small quiet">{{ sayUse(row.usedBy) }}</span>
          </ng-template>
          <ng-template cvCell="acts" [cvCellOf]="topics" let-row>
            @if (session.canMarket()) {
              <button class="link" type="button" (click)="removeTopic(row.topic)">Take out</button>
            }
          </ng-template>
        </cv-table>
        @if (session.canMarket()) {
          <form class="row" (submit)="addTopic($event, topic)">
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><input matInput #topic aria-label="A new topic" placeholder="New topic" maxlength="60" /></mat-form-field
            ><button matButton="outlined">Add</button>
          </form>
          <p class="small quiet">One that is taken out is offered no more; who asked for it keeps it.</p>
        }
      </section>
    </main>
  `,
  styles: `
    section + section {
      margin-top: 16px;
    }
    strong,
    button.link {
      white-space: nowrap;
    }
  `,
})
export class VocabularyPage {
  protected readonly sayNumber = sayNumber;
  protected readonly typed = typed;
  protected readonly types = fieldTypes;
  protected readonly typeWords = typeWords;
  private readonly api = inject(VocabularyApi);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  private readonly destroyed = inject(DestroyRef);
  protected readonly session = inject(Session);
  private readonly nothing: Vocabulary = { fields: [], topics: [] };
  protected readonly all = reading(() => this.api.read(), this.nothing);
  protected readonly fields = fixedRows(computed(() => this.all.value().fields));
  protected readonly topics = fixedRows(
    computed(() => this.all.value().topics.map((one) => ({ ...one, id: one.topic }))),
  );
  protected readonly fieldColumns: readonly Column[] = [
    { key: 'name', label: 'Field', onCard: 'title' },
    { key: 'type', label: 'Holds', onCard: 'fact' },
    { key: 'used', label: 'Used by', onCard: 'fact' },
    { key: 'acts', label: 'What to do', isLabelHidden: true, onCard: 'fact' },
  ];
  protected readonly topicColumns: readonly Column[] = [
    { key: 'topic', label: 'Topic', onCard: 'title' },
    { key: 'used', label: 'Used by', onCard: 'fact' },
    { key: 'acts', label: 'What to do', isLabelHidden: true, onCard: 'fact' },
  ];
  protected readonly type = signal<FieldType>('text');
  protected readonly renaming = signal<number | null>(null);
  /** Values that are taken out so far; null while nothing is. */
  protected readonly emptied = signal<number | null>(null);
  protected readonly problem = signal('');

  protected sayUse(usedBy: Vocabulary['fields'][number]['usedBy']): string {
    return usedBy.map(({ kind, name }) => `${kind} “${name}”`).join(', ') || 'nothing';
  }
  protected choose(event: Event): void {
    this.type.set(chosenOf(fieldTypes, event) ?? 'text');
  }
  protected addField(submit: Event, field: HTMLInputElement): void {
    submit.preventDefault();
    const name = field.value.trim();
    if (!name) return this.problem.set('Give the field a name.');
    this.act(this.api.addField({ name, type: this.type() }), () => (field.value = ''));
  }
  protected rename(submit: Event, id: number, name: string): void {
    submit.preventDefault();
    if (!name.trim()) return this.problem.set('Give the field a name.');
    this.act(this.api.renameField(id, name.trim()), () => this.renaming.set(null));
  }
  protected removeField(id: number, name: string): void {
    this.confirm
      .ask({
        title: `Take “${name}” out?`,
        text: 'What people have in it goes with it.\n\nThis cannot be undone.',
        yes: 'Take it out',
        no: 'Keep',
      })
      .subscribe(() =>
        this.api
          .removeField(id)
          .pipe(takeUntilDestroyed(this.destroyed))
          .subscribe({
            next: ({ done }) => this.emptied.set(done),
            complete: () => {
              this.emptied.set(null);
              this.settle();
              this.toast.say('The field is taken out.');
            },
            error: (error: unknown) => {
              this.emptied.set(null);
              this.problem.set(sayError(error));
            },
          }),
      );
  }
  protected addTopic(submit: Event, topic: HTMLInputElement): void {
    submit.preventDefault();
    const name = topic.value.trim();
    if (!name) return this.problem.set('Give the topic a name.');
    this.act(this.api.addTopic(name), () => (topic.value = ''));
  }
  protected removeTopic(topic: string): void {
    this.act(this.api.removeTopic(topic), () => this.toast.say(`“${topic}” is offered no more.`));
  }

  private act(asked: Observable<unknown>, then: () => void): void {
    asked.subscribe({
      next: () => {
        then();
        this.settle();
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
  private settle(): void {
    this.problem.set('');
    this.all.reload();
  }
}
