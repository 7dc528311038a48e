import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { ReadingProblem } from '../ui/reading-problem';
import { When } from '../ui/when';

/** Every action that reached subscribers or changed the house, with who and when. */
@Component({
  selector: 'cv-audit-log',
  imports: [ReadingProblem, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet" aria-label="Audit log">
      <h2>Audit log</h2>
      <cv-reading-problem [of]="audit" what="The log" />
      <ol tabindex="0" aria-label="Actions, newest first">
        @for (row of audit.value(); track row.id) {
          <li>
            <strong>{{ row.action }}</strong>&ngsp;<span class="rtl-safe">{{ row.what }}</span
            ><br /><span class="quiet small">{{ row.by }} · <cv-when [at]="row.at" [zone]="zone" /></span>
          </li>
        } @empty {
          @if (!audit.hasFailed()) {
            <li class="quiet">Nothing yet.</li>
          }
        }
      </ol>
    </section>
  `,
  styles: `
    ol {
      list-style: none;
      margin: 0;
      padding: 0;
      max-height: 420px;
      overflow: auto;
    }
    li {
      padding: 6px 0;
      border-bottom: 1px solid var(--line);
      overflow-wrap: anywhere;
    }
  `,
})
export class AuditLog {
  private readonly api = inject(SettingsApi);
  protected readonly zone = inject(Session).me()?.organisation.zone ?? 'UTC';
  protected readonly audit = reading(() => this.api.audit(), []);
}
