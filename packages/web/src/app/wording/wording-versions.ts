import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import type { KeptWording } from '@convite/contract';
import { differenceBetween, type WordingDocument } from '@convite/core';
import { Session } from '../api/session';
import { WordingsApi } from '../api/wordings';
import { When } from '../ui/when';

/** What a wording said before: each version, what differs from what stands there now, and the way back to it. */
@Component({
  selector: 'cv-wording-versions',
  imports: [When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (version of versions(); track version.number) {
        <li>
          <button
            type="button"
            class="link"
            [attr.aria-expanded]="shown() === version.number"
            (click)="shown.set(shown() === version.number ? null : version.number)"
          >
            {{ version.number === 0 ? 'As it came with Convite' : 'Version ' + version.number }}
          </button>
          @if (version.at; as at) {
            <span class="small quiet">&ngsp;<cv-when [at]="at" [zone]="session.zone()" /> · {{ version.by }}</span>
          }
          @if (shown() === version.number) {
            @if (lines(); as changes) {
              <pre tabindex="0" [attr.aria-label]="'What differs from version ' + version.number">@for (
                line of changes;
                track $index
              ) {<span [class]="line.kind"><span class="visually-hidden">{{ heard[line.kind] }}</span><span aria-hidden="true">{{ marks[line.kind] }}</span> {{ line.text }}
</span>}</pre>
              @if (session.canMarket()) {
                <button type="button" class="link small" (click)="take()">Use these words again</button>
              }
            } @else {
              <p class="small quiet" role="status">Reading that version …</p>
            }
          }
        </li>
      }
    </ul>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 6px;
    }
    pre {
      margin: 6px 0;
      padding: 8px 12px;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
      font-family: inherit;
      font-size: 13.5px;
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
    .added {
      font-weight: 600;
    }
    .removed {
      color: var(--quiet);
      text-decoration: line-through;
    }
  `,
})
export class WordingVersions {
  private readonly api = inject(WordingsApi);
  protected readonly session = inject(Session);
  readonly wording = input.required<KeptWording>();
  /** What stands there now, saved or not. */
  readonly now = input.required<WordingDocument>();
  readonly taken = output<WordingDocument>();
  protected readonly marks = { same: ' ', added: '+', removed: '−' } as const;
  protected readonly heard = { same: '', added: 'New: ', removed: 'Gone: ' } as const;
  protected readonly shown = signal<number | null>(null);
  protected readonly versions = computed((): { number: number; at: string; by: string }[] => {
    const { versions, original } = this.wording();
    return [...versions, ...(original ? [{ number: 0, at: '', by: '' }] : [])];
  });
  private readonly version = rxResource({
    params: () => {
      const number = this.shown();
      return number === null ? undefined : { key: this.wording().key, number };
    },
    stream: ({ params }) => this.api.version(params.key, params.number),
  });
  private readonly document = computed(() =>
    this.version.hasValue() ? (this.version.value()?.wording ?? null) : null,
  );
  protected readonly lines = computed(() => {
    const document = this.document();
    return document && differenceBetween(document, this.now());
  });

  protected take(): void {
    const document = this.document();
    if (document) this.taken.emit(document);
  }
}
