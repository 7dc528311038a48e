import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { CueRow, HazardRow } from '@convite/contract';
import { Session } from '../api/session';
import { sayInstant } from '../ui/say';
import { isMild, sayHazard } from './hazard-words';

/** What a press does about a hazard: moves the cue, sets it, ends it with how to stop texts, opens it, changes who gets it, or leads to Settings. */
type Mend = { readonly words: string } & (
  | { readonly kind: 'move'; readonly toMs: number }
  | { readonly kind: 'set' | 'open' | 'end' | 'invite' | 'exclude' }
  | { readonly kind: 'settings'; readonly link: string }
);

/** What is worth a second look of one cue, each with the press that mends it. */
@Component({
  selector: 'cv-cue-hazards',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (one of found(); track one.hazard.code) {
      <div class="small" [class.alarm]="!one.isMild" [class.quiet]="one.isMild">
        {{ one.words }}
        @for (mend of one.mends; track mend.words) {
          @if (mend.kind === 'settings') {
            <a [routerLink]="mend.link">{{ mend.words }}</a>
          } @else {
            <button class="link" (click)="press(mend, $event)">{{ mend.words }}</button>
          }
        }
      </div>
    }
  `,
})
export class CueHazards {
  private readonly session = inject(Session);
  readonly cue = input.required<CueRow>();
  readonly zone = input.required<string>();
  readonly moved = output<number>();
  readonly wasSet = output();
  readonly opened = output();
  /** It is to say how to end such texts. */
  readonly optOutAsked = output();
  /** People who would get it without the join link: they are invited too, or excluded. */
  readonly inviteAsked = output();
  readonly excludeAsked = output();

  protected readonly found = computed(() =>
    this.cue().hazards.map((hazard) => ({
      hazard,
      words: sayHazard(hazard, this.zone()),
      isMild: isMild(hazard),
      mends: this.session.canMarket() ? this.mendsOf(hazard) : [],
    })),
  );

  protected press(mend: Mend, event: Event): void {
    event.stopPropagation();
    if (mend.kind === 'move') this.moved.emit(mend.toMs);
    else if (mend.kind === 'set') this.wasSet.emit();
    else if (mend.kind === 'end') this.optOutAsked.emit();
    else if (mend.kind === 'invite') this.inviteAsked.emit();
    else if (mend.kind === 'exclude') this.excludeAsked.emit();
    else this.opened.emit();
  }

  private mendsOf({ code, toAt }: HazardRow): Mend[] {
    if (toAt !== null)
      return [
        { kind: 'move', toMs: Date.parse(toAt), words: `move it to ${sayInstant(Date.parse(toAt), this.zone())}` },
      ];
    switch (code) {
      case 'draft':
        return [{ kind: 'set', words: 'set it' }];
      case 'nobody':
        return [{ kind: 'open', words: 'choose who gets it' }];
      case 'no-join-link':
        return [
          { kind: 'invite', words: 'Invite them too' },
          { kind: 'exclude', words: 'Exclude them' },
        ];
      case 'no-opt-out':
        return [{ kind: 'end', words: 'add it' }];
      case 'never-tested':
        return [{ kind: 'open', words: 'test it' }];
      case 'sender-unproven':
      case 'no-postal-address':
        return [{ kind: 'settings', link: '/settings', words: 'Settings' }];
      default:
        return [];
    }
  }
}
