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
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { usualQuiet, type Channel, type HouseQuiet } from '@convite/core';
import { PressureApi } from '../api/pressure';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { sayClock } from '../ui/say';
import { isClock } from '../ui/time/temporal-adapter';
import { ClockField } from '../ui/time/clock-field';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';

const channels = ['text', 'email'] as const;

/** When people are not disturbed, on each one's own clock. */
@Component({
  selector: 'cv-quiet-hours',
  imports: [ClockField, MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let it = edit();
    <p class="small quiet">
      Whoever is in quiet hours as a message goes gets it as those end, does without, or gets what counts down to
      something a quarter of an hour before they begin, and the rest as they end; never after the start: then who comes
      to the event gets it at its moment, and the others do without. Confirmations, answers, changes and call-offs wait
      for nothing. With neither ticked, nothing is held back.
    </p>
    @if (session.isOwner()) {
      <form class="stack" (submit)="save($event)">
        <p class="row">
          <cv-clock-field label="From" [value]="it.from" (valueChange)="edit.set({ ...it, from: $event })" />
          <cv-clock-field label="Until" [value]="it.until" (valueChange)="edit.set({ ...it, until: $event })" />
          <span>on each person’s own clock, hold back</span>
          @for (channel of channels; track channel) {
            <mat-checkbox [checked]="it.channels.includes(channel)" (change)="hold(channel, $event.checked)">{{
              channel === 'text' ? 'texts' : 'emails'
            }}</mat-checkbox>
          }
        </p>
        <p class="row">
          <span>Whoever is in them</span>
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select
              matNativeControl
              aria-label="What becomes of who is in quiet hours"
              (change)="choose(typed($event))"
            >
              <option value="before" [selected]="it.manner === 'before'">
                gets what counts down before they begin
              </option>
              <option value="wait" [selected]="it.manner !== 'out' && it.manner !== 'before'">
                gets it as they end
              </option>
              <option value="out" [selected]="it.manner === 'out'">does without</option>
            </select></mat-form-field
          >
        </p>
        @if (problem()) {
          <p class="field-problem" role="alert">{{ problem() }}</p>
        }
        <p class="row"><button matButton="filled">Keep these hours</button></p>
      </form>
    } @else {
      <p>{{ said() }} An owner sets it.</p>
    }
  `,
  styles: `
    cv-clock-field {
      width: 130px;
    }
    mat-form-field.inline {
      width: min(100%, 360px);
    }
    form {
      margin-top: 10px;
    }
  `,
})
export class QuietHours {
  readonly quiet = input.required<HouseQuiet | null>();
  readonly saved = output();
  private readonly api = inject(PressureApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly typed = typed;
  protected readonly channels = channels;
  protected readonly problem = signal('');
  /** What is typed; what is stored until somebody types. */
  protected readonly edit = linkedSignal<HouseQuiet>(() => this.quiet() ?? { ...usualQuiet, channels: [] });

  protected readonly said = computed(() => {
    const quiet = this.quiet();
    if (!quiet) return 'Nothing is held back at night.';
    const held = quiet.channels.map((one) => (one === 'text' ? 'texts' : 'emails')).join(' and ');
    return `From ${sayClock(quiet.from)} until ${sayClock(quiet.until)} on each person’s own clock, ${held} are held back${quiet.manner === 'out' ? ' for good' : quiet.manner === 'before' ? ', but for what goes before that' : ''}.`;
  });

  protected hold(channel: Channel, isHeld: boolean): void {
    const it = this.edit();
    this.edit.set({
      ...it,
      channels: channels.filter((one) => (one === channel ? isHeld : it.channels.includes(one))),
    });
  }

  protected choose(manner: string): void {
    this.edit.update(({ from, until, channels: held }) => ({
      ...{ from, until, channels: held },
      ...((manner === 'out' || manner === 'before') && { manner }),
    }));
  }

  protected save(submit: Event): void {
    submit.preventDefault();
    const { from, until, channels: held } = this.edit();
    if (held.length > 0 && !(isClock(from) && isClock(until) && from !== until))
      return this.problem.set('Type two different times of day, such as 22:00 and 8:00.');
    const quiet =
      held.length === 0
        ? null
        : { from, until, channels: held, ...(this.edit().manner === 'out' && { manner: 'out' as const }) };
    this.api.saveQuiet({ quiet, was: this.quiet() }).subscribe({
      next: () => {
        this.problem.set('');
        this.saved.emit();
        this.toast.say(
          quiet ? `Quiet from ${sayClock(from)} until ${sayClock(until)}.` : 'Nothing is held back at night.',
        );
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
}
