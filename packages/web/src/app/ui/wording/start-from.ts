import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { map, type Observable } from 'rxjs';
import type { OfferedWording } from '@convite/contract';
import type { Channel, WordingDocument } from '@convite/core';
import { Chooser, type Choice } from '../chooser';
import { Toast } from '../toast';
import { WordingSource } from './wording-source';

/** Begins a message from one that is kept, or from a cue of any event. What stood there comes back by Undo. */
@Component({
  selector: 'cv-start-from',
  imports: [Chooser],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-chooser
      label="Start from a kept wording or a cue"
      placeholder="Start from …"
      [find]="find"
      [clears]="true"
      (chosen)="begin($event.value)"
    />
  `,
  styles: `
    cv-chooser {
      width: 360px;
      max-width: 100%;
    }
  `,
})
export class StartFrom {
  private readonly source = inject(WordingSource);
  private readonly toast = inject(Toast);
  readonly channel = input.required<Channel>();
  readonly isOfEvent = input(true);
  /** What stands there now. */
  readonly wording = input.required<WordingDocument>();
  readonly begun = output<WordingDocument>();

  protected readonly find = (text: string): Observable<readonly Choice<OfferedWording>[]> =>
    this.source
      .offered(text, this.channel(), this.isOfEvent())
      .pipe(map((offered) => offered.map((one) => ({ value: one, name: one.name, about: one.about }))));

  protected begin({ key, name }: OfferedWording): void {
    const before = this.wording();
    this.source.begin(key, this.channel()).subscribe({
      next: ({ wording }) => {
        this.begun.emit(wording);
        this.toast.offerUndo(`Begun from “${name}”.`, () => this.begun.emit(before));
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
