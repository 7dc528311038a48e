import { ChangeDetectionStrategy, Component, computed, forwardRef, inject } from '@angular/core';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { canonicalZone, findZones, isZone, sayZoneNow } from '@convite/core';
import { SharedClock } from '../shared-clock';
import { typed } from '../typed';
import { TypedControl } from '../typed-control';

const mostOffered = 8;

/** A time zone, found by typing a city, with its offset now and when that changes. Its value is the zone's name. */
@Component({
  selector: 'cv-zone-field',
  imports: [MatAutocompleteModule, MatFormFieldModule, MatInputModule],
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => ZoneField), multi: true }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field subscriptSizing="dynamic">
      <mat-label>{{ label() }}</mat-label>
      <input
        matInput
        autocomplete="off"
        placeholder="a city, such as Lisbon"
        [value]="value()"
        [disabled]="isDisabled()"
        [matAutocomplete]="auto"
        (input)="set(typed($event))"
        (blur)="touched()"
      />
    </mat-form-field>
    <mat-autocomplete #auto="matAutocomplete" (optionSelected)="set($event.option.value)">
      @for (zone of offered(); track zone) {
        <mat-option [value]="zone"
          >{{ say(zone) }} <span class="quiet small">{{ zone }}</span></mat-option
        >
      }
    </mat-autocomplete>
    @if (said(); as words) {
      <p class="small quiet">{{ words }}</p>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    p {
      margin: 2px 0 0;
    }
  `,
})
export class ZoneField extends TypedControl {
  private readonly clock = inject(SharedClock);

  protected readonly typed = typed;
  /** The clock ticks every second; zones change by the day. */
  private readonly hourMs = computed(() => Math.floor(this.clock.nowMs() / 3_600_000) * 3_600_000);
  protected readonly offered = computed(() => (isZone(this.value()) ? [] : findZones(this.value(), mostOffered)));
  protected readonly said = computed(() => {
    const zone = canonicalZone(this.value());
    return zone ? this.say(zone) : '';
  });
  protected readonly say = (zone: string): string => sayZoneNow(zone, this.hourMs());
}
