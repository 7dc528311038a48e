import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatButtonModule } from '@angular/material/button';
import { linkFaultWords, type InvitationPreview, type TestedLink } from '@convite/contract';
import { EventsApi } from '../api/events';
import { sayError } from '../refused';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { Fold } from '../ui/fold';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';

/** Add-to-calendar links, what each really says, and blocks to copy into a newsletter made elsewhere. */
@Component({
  selector: 'cv-link-tester',
  imports: [Cell, Fold, MatButtonModule, MatFormFieldModule, MatInputModule, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="halves">
      <section class="stack">
        <h2>Links</h2>
        <cv-table label="Links" [isSmall]="true" [source]="links" [columns]="linkColumns">
          <ng-template cvCell="name" [cvCellOf]="links" let-link>
            {{ link.name }}
            @if (link.isPersonal) {
              <span class="small quiet">made for each person</span>
            }
          </ng-template>
          <ng-template cvCell="address" [cvCellOf]="links" let-link>
            <a class="wrap small" [href]="link.url" target="_blank" rel="noopener">{{ link.url }}</a>
          </ng-template>
          <ng-template cvCell="test" [cvCellOf]="links" let-link>
            @if (!link.isFile) {
              <button class="link small" (click)="pick(link.url)">Test</button>
            }
          </ng-template>
        </cv-table>
        @if (preview().links.length === 0) {
          <p class="quiet">No web calendar is set up yet; an owner adds its pattern in Settings.</p>
        }
        <h2>Blocks to copy</h2>
        <p class="small quiet">For a newsletter made elsewhere.</p>
        @for (block of blocks(); track block.name) {
          <div class="block">
            <cv-fold [heading]="block.name">
              <pre class="mono" tabindex="0">{{ block.text }}</pre>
            </cv-fold>
            <button class="link small" (click)="copy(block.text)">Copy</button>
          </div>
        }
      </section>
      <section class="stack" aria-label="Link tester">
        <h2>What a link really says</h2>
        <form class="stack" (submit)="test($event)">
          <mat-form-field subscriptSizing="dynamic">
            <textarea
              matInput
              rows="3"
              class="mono"
              aria-label="Link to test"
              placeholder="Paste any add-to-calendar link, also one made elsewhere"
              [value]="link()"
              (input)="link.set(typed($event))"
            ></textarea>
          </mat-form-field>
          <div class="row">
            <button matButton="filled" [disabled]="!link().trim()">Test this link</button>
            @if (link().trim()) {
              <a [href]="link()" target="_blank" rel="noopener">Open it as {{ preview().person.name || 'anybody' }}</a>
            }
          </div>
        </form>
        @if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        @if (result(); as result) {
          <p class="note" [class.good]="result.isGood" [class.alarm]="!result.isGood" role="status">
            {{ result.isGood ? 'It says what the event says.' : 'It does not say what the event says.' }}
          </p>
          <cv-table label="What the link says" [isSmall]="true" [source]="lines" [columns]="lineColumns">
            <ng-template cvCell="part" [cvCellOf]="lines" let-line>
              <span [class.yes]="!line.faults.length" [class.alarm]="line.faults.length"
                >{{ line.faults.length ? '✗' : '✓' }} {{ line.part }}</span
              >
            </ng-template>
            <ng-template cvCell="says" [cvCellOf]="lines" let-line>
              <div class="wrap small pre">{{ line.says || 'nothing' }}</div>
              @for (fault of line.faults; track fault) {
                <div class="small alarm">{{ words[fault] ?? fault }}</div>
              }
            </ng-template>
            <ng-template cvCell="should" [cvCellOf]="lines" let-line>
              <div class="wrap small pre">{{ line.should || 'nothing' }}</div>
            </ng-template>
          </cv-table>
        }
      </section>
    </div>
  `,
  styles: `
    textarea {
      width: 100%;
    }
    pre {
      margin: 6px 0 0;
      padding: 8px 12px;
      max-height: 220px;
      overflow: auto;
      white-space: pre-wrap;
      overflow-wrap: anywhere;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 6px;
    }
    .block {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      align-items: start;
      gap: 12px;
    }
    div.pre {
      max-width: 260px;
    }
  `,
})
export class LinkTester {
  protected readonly typed = typed;
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  readonly eventId = input.required<number>();
  readonly preview = input.required<InvitationPreview>();
  protected readonly words: Readonly<Record<string, string>> = linkFaultWords;
  protected readonly link = signal('');
  protected readonly result = signal<TestedLink | null>(null);
  protected readonly problem = signal('');

  /** The calendar file first; it is no link to test. */
  protected readonly links = fixedRows(
    computed(() => [
      { id: 'file', name: 'Calendar file', url: this.preview().icsUrl, isPersonal: false, isFile: true },
      ...this.preview().links.map((link) => ({ ...link, id: `link ${link.name}`, isFile: false })),
    ]),
  );
  protected readonly linkColumns: readonly Column[] = [
    { key: 'name', label: 'Link', onCard: 'title' },
    { key: 'address', label: 'Address', onCard: 'fact' },
    { key: 'test', label: 'What to do', isLabelHidden: true, isNumber: true, onCard: 'fact' },
  ];
  protected readonly lines = fixedRows(
    computed(() => (this.result()?.lines ?? []).map((line, id) => ({ ...line, id }))),
  );
  protected readonly lineColumns: readonly Column[] = [
    { key: 'part', label: 'Part', onCard: 'title' },
    { key: 'says', label: 'The link says', onCard: 'fact' },
    { key: 'should', label: 'The event says', onCard: 'fact' },
  ];

  protected blocks(): { name: string; text: string }[] {
    const { blocks, links, icsUrl } = this.preview();
    return [
      { name: 'Buttons, as HTML that mail programs show', text: blocks.html },
      { name: 'The same as plain text', text: blocks.text },
      { name: 'The event’s details as text', text: blocks.details },
      ...links.map(({ name, url }) => ({ name: `Address: ${name}`, text: url })),
      { name: 'Address: calendar file', text: icsUrl },
    ];
  }
  protected copy(text: string): void {
    navigator.clipboard.writeText(text).then(
      () => this.toast.say('Copied.'),
      () => this.toast.say('The browser does not let this page copy; open the block and copy it by hand.'),
    );
  }
  protected pick(url: string): void {
    this.link.set(url);
    this.run();
  }
  protected test(event: Event): void {
    event.preventDefault();
    this.run();
  }
  private run(): void {
    this.api.testLink(this.eventId(), this.link(), this.preview().person.id || null).subscribe({
      next: (result) => {
        this.problem.set('');
        this.result.set(result);
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
}
