import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { isPartChanged, mergeParts, partNames, type Merged, type Parts } from '@convite/core';
import { Conflict } from './conflict';
import type { Followed } from './follow-stored';

/** How the parts of a form are called, and what each says in one line. */
export interface PartWords<T, P extends string> {
  readonly parts: Parts<T, P>;
  readonly names: Readonly<Record<P, string>>;
  readonly say: (value: T, part: P) => string;
}

/** What somebody saved while this was being typed: part by part beside what was typed, and put together when one says so. */
@Component({
  selector: 'cv-meanwhile',
  imports: [Conflict],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (followed().newer(); as theirs) {
      <cv-conflict
        [what]="'Somebody saved this ' + what() + ' meanwhile'"
        [clash]="clash(theirs)"
        (merged)="putOnTop(theirs)"
        (dropped)="drop()"
      >
        <dl theirs class="facts">
          @for (part of changedIn(theirs); track part) {
            <dt>{{ words().names[part] }}</dt>
            <dd>{{ words().say(theirs, part) }}</dd>
          }
        </dl>
        <dl mine class="facts">
          @for (part of changedIn(mine()); track part) {
            <dt>{{ words().names[part] }}</dt>
            <dd>{{ words().say(mine(), part) }}</dd>
          }
        </dl>
      </cv-conflict>
    }
  `,
  styles: `
    /* Where there is nothing to say it takes no place either. */
    :host {
      display: contents;
    }
    dd {
      overflow-wrap: anywhere;
    }
  `,
})
export class Meanwhile<T extends object, P extends string> {
  /** What it is a form of, as a word. */
  readonly what = input.required<string>();
  readonly words = input.required<PartWords<T, P>>();
  readonly followed = input.required<Followed<T>>();
  readonly mine = input.required<T>();
  /** One of them was chosen, or both put together: what was said of the form before is over. */
  readonly settled = output();

  protected clash(theirs: T): string {
    const names = this.together(theirs).clashes.map((part) => this.words().names[part].toLowerCase());
    return names.length ? `Both changed: ${names.join(', ')}. With yours on top, yours stands there.` : '';
  }
  protected changedIn(value: T): P[] {
    const { parts } = this.words();
    return partNames(parts).filter((part) => isPartChanged(parts[part], this.followed().base() ?? value, value));
  }
  protected putOnTop(theirs: T): void {
    this.followed().goOnWith(this.together(theirs).merged);
    this.settled.emit();
  }
  protected drop(): void {
    this.followed().drop();
    this.settled.emit();
  }
  private together(theirs: T): Merged<T, P> {
    return mergeParts(this.words().parts, { base: this.followed().base() ?? theirs, mine: this.mine(), theirs });
  }
}
