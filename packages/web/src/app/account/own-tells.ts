import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { newsKinds, type NewsKind, type Tells } from '@convite/contract';
import { canonicalZone, sayZone } from '@convite/core';
import { AccountApi } from '../api/account';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { ClockField } from '../ui/time/clock-field';
import { ZoneField } from '../ui/time/zone-field';
import { Toast } from '../ui/toast';

const words: Readonly<Record<NewsKind, string>> = {
  yes: 'somebody registers or says yes',
  no: 'somebody says no',
  waits: 'somebody begins to wait for a place',
  comment: 'somebody writes a comment',
  place: 'a place is free again',
};

/** What one is told of by mail, as it happens and of the day. */
@Component({
  selector: 'cv-own-tells',
  imports: [ClockField, MatButtonModule, MatCheckboxModule, ZoneField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let it = edit();
    <form class="sheet stack" aria-label="What you are told" (submit)="save($event)">
      <h2>What you are told</h2>
      <p class="small quiet">By mail to your own address; what comes within five minutes stands in one mail.</p>
      <div role="group" aria-label="Tell me when" class="ticks">
        @for (kind of kinds; track kind) {
          <mat-checkbox [checked]="it.kinds.includes(kind)" (change)="toggle(kind)">{{ words[kind] }}</mat-checkbox>
        }
      </div>
      <mat-checkbox [checked]="it.summaryAt !== null" (change)="change({ summaryAt: $event.checked ? '07:30' : null })"
        >every day, what it holds: what goes out, what begins, what needs somebody</mat-checkbox
      >
      @if (it.summaryAt !== null) {
        <cv-clock-field label="At" [value]="it.summaryAt" (valueChange)="change({ summaryAt: $event })" />
      }
      <cv-zone-field [label]="zoneLabel()" [value]="it.zone" (valueChange)="change({ zone: $event })" />
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
      <div class="row"><button matButton="outlined">Keep it so</button></div>
    </form>
  `,
  styles: `
    p {
      margin: 0;
    }
    .ticks {
      display: grid;
    }
    cv-clock-field {
      width: 160px;
    }
  `,
})
export class OwnTells {
  private readonly api = inject(AccountApi);
  private readonly toast = inject(Toast);
  private readonly houseZone = inject(Session).zone();
  readonly tells = input.required<Tells>();
  readonly saved = output();
  protected readonly kinds = newsKinds;
  protected readonly words = words;
  protected readonly problem = signal('');
  protected readonly edit = linkedSignal<Tells>(() => this.tells());
  protected readonly zoneLabel = computed(() => `Your time zone; left empty, ${sayZone(this.houseZone)}`);

  protected toggle(kind: NewsKind): void {
    const { kinds } = this.edit();
    this.change({ kinds: newsKinds.filter((one) => kinds.includes(one) !== (one === kind)) });
  }
  protected change(part: Partial<Tells>): void {
    this.edit.update((it) => ({ ...it, ...part }));
  }
  protected save(submit: Event): void {
    submit.preventDefault();
    const { zone, ...it } = this.edit();
    const known = zone.trim() === '' ? '' : canonicalZone(zone);
    if (known === null) return this.problem.set(`There is no time zone “${zone}”: type a city and choose one.`);
    if (it.summaryAt !== null && !/^\d\d:\d\d$/.test(it.summaryAt))
      return this.problem.set('Type a time of day, such as 7:30.');
    this.api.setTells({ ...it, zone: known }).subscribe({
      next: () => {
        this.problem.set('');
        this.toast.say('Kept.');
        this.saved.emit();
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
}
