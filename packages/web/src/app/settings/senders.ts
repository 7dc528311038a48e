import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { Observable } from 'rxjs';
import {
  senderFields,
  type LocatedProblem,
  type SenderFields,
  type SenderName,
  type SenderRow,
} from '@convite/contract';
import { noPace } from '@convite/core';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { SendersApi } from '../api/senders';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { Confirm } from '../ui/confirm';
import { FieldProblem } from '../ui/field-problem';
import { ReadingProblem } from '../ui/reading-problem';
import { sayCount } from '../ui/say';
import { Toast } from '../ui/toast';
import { noHealth, paceUnitWords, sayHealth, sayPace } from './sender-words';
import { SenderNumber } from './sender-number';

/** As whom the house writes, beside itself: each proven by somebody who reads its mail, paused, and looked up in the DNS. */
@Component({
  selector: 'cv-senders',
  imports: [
    FieldProblem,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    ReactiveFormsModule,
    ReadingProblem,
    SenderNumber,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Other senders">
      <div class="row">
        <h2>Other senders</h2>
        @if (session.isOwner() && !editing()) {
          <button matButton="outlined" class="push" (click)="edit(null)">Add a sender</button>
        }
      </div>
      <p class="quiet small">
        An event, a digest or a message by hand may be written by somebody else than the house: choose them there. While
        one is paused, or nobody who reads its mail said yes, the house writes in its own name.
      </p>
      <cv-reading-problem [of]="senders" what="The senders" />
      @for (sender of senders.value(); track sender.id) {
        <div class="sender">
          <span class="grow"
            ><strong class="rtl-safe">{{ sender.name }}</strong
            >&ngsp;<span class="quiet wrap">{{ sender.email }}</span
            ><br />
            <span class="small" [class.alarm]="sender.fault">{{ stateOf(sender) }}</span>
            <span class="small quiet"> · {{ sayCount(sender.events, 'event', 'events') }}</span>
            @if (sender.takesNoAnswers) {
              <span class="small quiet"> · takes no answers</span>
            }
            @if (sender.hidesAddress) {
              <span class="small quiet"> · readers see an address of ours</span>
            }
            @if (sayPace(sender.pace); as bound) {
              <span class="small quiet"> · at most {{ bound }}</span>
            }
            <br />
            <span class="small quiet">in thirty days: {{ sayHealth(sender.lately) }}</span>
            @if (sender.hasTextFault) {
              <br />
              <span class="small alarm"
                >nobody proved {{ sender.textSender }} yet: texts come from the house’s number</span
              >
            }
          </span>
          @if (session.isOwner()) {
            <span class="row acts small">
              @if (sender.provenAt === null) {
                <button
                  class="link"
                  (click)="act(api.askProof(sender.id), 'A mail is on its way to ' + sender.email + '.')"
                >
                  Ask for its proof
                </button>
              }
              <button class="link" (click)="look(sender)">Look its names up</button>
              <button class="link" (click)="edit(sender)">Change</button>
              <button
                class="link"
                (click)="
                  act(api.pause(sender.id, !sender.isPaused), sender.isPaused ? 'It writes again.' : 'It is paused.')
                "
              >
                {{ sender.isPaused ? 'Take up again' : 'Pause' }}
              </button>
              <button class="link" (click)="remove(sender)">Remove …</button>
            </span>
          }
          @if (sender.hasTextFault && session.isOwner()) {
            <cv-sender-number [sender]="sender" (proven)="senders.reload()" />
          }
          @if (looked(); as it) {
            @if (it.id === sender.id) {
              <ul class="plain small names">
                @for (name of it.names; track name.what) {
                  <li>
                    <span [class.alarm]="!name.isGood"
                      ><span aria-hidden="true">{{ name.isGood ? '✓' : '✗' }}</span> {{ name.what }} at {{ name.at }}:
                    </span>
                    <span class="mono wrap">{{ name.found || 'nothing' }}</span>
                    @if (name.advice) {
                      <br /><span class="wrap">{{ name.advice }}</span>
                    }
                  </li>
                }
              </ul>
            }
          }
        </div>
      } @empty {
        <p class="quiet">None yet: everything comes from the house.</p>
      }
      <p class="small quiet">The house itself, in thirty days: {{ sayHealth(house.value()) }}</p>
      @if (editing(); as it) {
        <form [formGroup]="form" (ngSubmit)="save(it.sender)" class="fields">
          <div class="half">
            <mat-form-field><mat-label>Name</mat-label><input matInput formControlName="name" /></mat-form-field
            ><cv-field-problem [problems]="problems()" path="name" />
          </div>
          <div class="half">
            <mat-form-field
              ><mat-label>Address</mat-label><input matInput type="email" formControlName="email" /></mat-form-field
            ><cv-field-problem [problems]="problems()" path="email" />
          </div>
          <div class="half">
            <mat-form-field
              ><mat-label>Answers go to, if elsewhere</mat-label
              ><input matInput type="email" formControlName="replyTo" /></mat-form-field
            ><cv-field-problem [problems]="problems()" path="replyTo" />
          </div>
          <div class="half">
            <mat-form-field
              ><mat-label>Texts come from; empty for the house’s</mat-label
              ><input matInput formControlName="textSender" maxlength="20" /></mat-form-field
            ><cv-field-problem [problems]="problems()" path="textSender" />
          </div>
          <div class="half">
            <mat-form-field
              ><mat-label>Signature, in place of the house’s</mat-label
              ><textarea matInput rows="3" maxlength="500" formControlName="signature"></textarea></mat-form-field
            ><cv-field-problem [problems]="problems()" path="signature" />
          </div>
          <div class="half">
            <mat-form-field
              ><mat-label>The first message of each sending goes in copy to</mat-label
              ><input matInput type="email" formControlName="copyTo" /></mat-form-field
            ><cv-field-problem [problems]="problems()" path="copyTo" />
          </div>
          <fieldset class="pace" formGroupName="pace">
            <legend>At most so many messages of each kind, beside the house’s own bounds; empty for no bound</legend>
            <div class="fields">
              @for (unit of units; track unit[0]) {
                <div class="third">
                  <mat-form-field
                    ><mat-label>{{ unit[1] }}</mat-label
                    ><input matInput type="number" min="1" [formControlName]="unit[0]" /></mat-form-field
                  ><cv-field-problem [problems]="problems()" [path]="'pace.' + unit[0]" />
                </div>
              }
            </div>
          </fieldset>
          <div>
            <mat-checkbox formControlName="hidesAddress"
              >Readers see an address of ours; what they answer is kept here, and handed on</mat-checkbox
            >
          </div>
          <div>
            <mat-checkbox formControlName="takesNoAnswers"
              >Nobody reads answers to this address; every message says so</mat-checkbox
            >
          </div>
          @if (problem()) {
            <p class="note alarm" role="alert">{{ problem() }}</p>
          }
          <div class="row">
            <button matButton="filled">Keep the sender</button>
            <button matButton type="button" (click)="editing.set(null)">Discard</button>
          </div>
        </form>
      }
    </section>
  `,
  styles: `
    .sender {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 14px;
      padding: 8px 0;
      border-top: 1px solid var(--line);
    }
    .acts {
      gap: 2px 14px;
    }
    fieldset {
      flex: 1 1 100%;
      margin: 0;
      padding: 0;
      border: 0;
    }
    .names {
      margin: 0;
      padding: 0;
      list-style: none;
      flex: 1 1 100%;
    }
    p {
      margin: 0;
    }
  `,
})
export class Senders {
  protected readonly api = inject(SendersApi);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(Session);
  protected readonly sayCount = sayCount;
  protected readonly senders = reading(() => this.api.list(), []);
  /** Null `sender` for a new one. */
  protected readonly editing = signal<{ readonly sender: SenderRow | null } | null>(null);
  protected readonly looked = signal<{ readonly id: number; readonly names: readonly SenderName[] } | null>(null);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly units = paceUnitWords;
  protected readonly sayPace = sayPace;
  protected readonly sayHealth = sayHealth;
  protected readonly house = reading(() => this.api.houseHealth(), noHealth);
  private readonly fb = inject(NonNullableFormBuilder);
  protected readonly form = this.fb.group({
    ...blank,
    pace: this.fb.group({ perSecond: bound(), perHour: bound(), perDay: bound() }),
  });

  constructor() {
    reloadOn(
      () => ['senders'],
      () => this.senders.reload(),
    );
  }

  protected stateOf({ fault, provenAt }: SenderRow): string {
    if (fault === 'paused') return 'paused: the house writes in its own name';
    return provenAt === null ? 'not proven yet: the house writes in its own name' : 'proven';
  }
  protected edit(sender: SenderRow | null): void {
    this.problem.set('');
    this.problems.set([]);
    this.form.reset(sender ? fieldsOf(sender) : { ...blank, pace: noPace });
    this.editing.set({ sender });
  }
  protected save(sender: SenderRow | null): void {
    const fields = this.form.getRawValue();
    const saved = sender ? this.api.save(sender.id, { ...fields, was: fieldsOf(sender) }) : this.api.add(fields);
    saved.subscribe({
      next: () => {
        this.editing.set(null);
        this.senders.reload();
        this.toast.say('The sender is kept.');
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
      },
    });
  }
  protected look({ id }: SenderRow): void {
    this.api.names(id).subscribe({
      next: (names) => this.looked.set({ id, names }),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected remove({ id, name, events }: SenderRow): void {
    this.confirm
      .ask({
        title: `Remove ${name}?`,
        text: events
          ? `${sayCount(events, 'event is', 'events are')} written of by the house from then on.`
          : 'No event is written of by it.',
        yes: 'Remove it',
      })
      .subscribe(() => this.act(this.api.remove(id), 'It is removed.'));
  }
  protected act(asked: Observable<unknown>, words: string): void {
    asked.subscribe({
      next: () => {
        this.toast.say(words);
        this.senders.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}

const bound = (): FormControl<number | null> => new FormControl<number | null>(null);
const blank = {
  ...{ name: '', email: '', replyTo: '', textSender: '', signature: '', takesNoAnswers: false, copyTo: '' },
  hidesAddress: false,
};
const fieldsOf = (row: SenderRow): SenderFields => senderFields.parse(row);
