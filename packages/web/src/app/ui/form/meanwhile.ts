import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { isPartChanged, mergeParts, partNames, type Parts } from '@convite/core';
import { Conflict } from './conflict';

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
    <cv-conflict
      [what]="'Somebody saved this ' + what() + ' meanwhile'"
      [clash]="clash()"
      (merged)="merged.emit(together().merged)"
      (dropped)="dropped.emit()"
    >
      <dl theirs class="facts">
        @for (part of changedIn(theirs()); track part) {
          <dt>{{ words().names[part] }}</dt>
          <dd>{{ words().say(theirs(), part) }}</dd>
        }
      </dl>
      <dl mine class="facts">
        @for (part of changedIn(mine()); track part) {
          <dt>{{ words().names[part] }}</dt>
          <dd>{{ words().say(mine(), part) }}</dd>
        }
      </dl>
    </cv-conflict>
  `,
  styles: `
    dd {
      overflow-wrap: anywhere;
    }
  `,
})
export class Meanwhile<T extends object, P extends string> {
  /** What it is a form of, as a word. */
  readonly what = input.required<string>();
  readonly words = input.required<PartWords<T, P>>();
  /** What both began with. */
  readonly base = input.required<T>();
  readonly mine = input.required<T>();
  readonly theirs = input.required<T>();
  /** Mine on top of theirs, which is what now stands there. */
  readonly merged = output<T>();
  readonly dropped = output();

  protected readonly together = computed(() =>
    mergeParts(this.words().parts, { base: this.base(), mine: this.mine(), theirs: this.theirs() }),
  );
  protected readonly clash = computed(() => {
    const names = this.together().clashes.map((part) => this.words().names[part].toLowerCase());
    return names.length ? `Both changed: ${names.join(', ')}. With yours on top, yours stands there.` : '';
  });
  protected changedIn(value: T): P[] {
    const { parts } = this.words();
    return partNames(parts).filter((part) => isPartChanged(parts[part], this.base(), value));
  }
}
