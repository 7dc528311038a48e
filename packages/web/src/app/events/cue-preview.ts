import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { CuePreview, LiveCount } from '@convite/contract';
import { measureText, type Channel } from '@convite/core';
import { AudienceCount, sayReason, type PeopleBehind } from '../ui/audience-count';
import { MailBody } from '../ui/mail-body';
import { PersonPicker } from '../ui/person-picker';
import { When } from '../ui/when';

/** What a chosen person would get, when, and who gets it at all. Made by the functions that send. */
@Component({
  selector: 'cv-cue-preview',
  imports: [AudienceCount, MailBody, PersonPicker, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (preview(); as it) {
      @if (it.dueAt) {
        <p>Fires <cv-when [at]="it.dueAt" [zone]="zone()" /></p>
      }
      @if (counted(); as live) {
        <cv-audience-count [count]="live.audience" [share]="live.share" [people]="people()" />
      } @else {
        <p class="quiet" role="status">Counting who gets this …</p>
      }
      <div class="row">
        <h3>
          As <bdi>{{ it.person?.name }}</bdi>
        </h3>
        <cv-person-picker (chosen)="person.emit($event.id)" />
      </div>
      @if (it.person?.whyNot; as why) {
        <p class="note">
          Does not get it:
          {{ why === 'left-out' && it.person?.leftOutBy ? 'left out by ' + it.person?.leftOutBy : sayWhy(why) }}.
        </p>
      }
      @if (channel() === 'email') {
        <p>
          <span class="quiet">Subject</span>&ngsp;<strong class="rtl-safe">{{ it.subject }}</strong>
        </p>
        <cv-mail-body [html]="it.html" />
      } @else {
        <p class="bubble pre rtl-safe">{{ it.text }}</p>
        <p class="small quiet">
          {{ measure().parts }} {{ measure().parts === 1 ? 'part' : 'parts' }}, {{ measure().encoding }},
          {{ measure().units }} used
        </p>
      }
    } @else {
      <p class="quiet" role="status">Writing the preview …</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      align-content: start;
      min-width: 0;
    }
    .bubble {
      background: color-mix(in srgb, var(--text-channel) 14%, var(--sheet));
      border-left: 4px solid var(--text-channel);
      border-radius: 4px;
      padding: 10px 14px;
      margin: 0;
    }
  `,
})
export class CuePreviewPane {
  /** How many get it, as far as they are counted; null while that begins. */
  readonly counted = input.required<LiveCount | null>();
  readonly preview = input.required<CuePreview | null>();
  readonly channel = input.required<Channel>();
  readonly zone = input.required<string>();
  /** Opens the people behind the count. */
  readonly people = input<PeopleBehind | null>(null);
  readonly person = output<number>();
  protected readonly measure = computed(() => measureText(this.preview()?.text ?? ''));
  protected readonly sayWhy = sayReason;
}
