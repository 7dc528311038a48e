import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { auditKinds, type AuditPage } from '@convite/contract';
import { reading, readingOf } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Pager } from '../ui/pager';
import { ReadingProblem } from '../ui/reading-problem';
import { When } from '../ui/when';
import { typed } from '../ui/typed';

const nothing: AuditPage = { rows: [], next: null };

/** Every action that reached subscribers or changed the house, with who, when and from where. */
@Component({
  selector: 'cv-audit-log',
  imports: [MatButtonModule, Pager, ReadingProblem, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Audit log">
      <div class="row">
        <h2 class="grow">Audit log</h2>
        @if (session.isOwner()) {
          <a matButton="outlined" [href]="csvAddress()" download="audit.csv">Take it as CSV</a>
        }
      </div>
      <div class="row small">
        <select aria-label="What was done" (change)="kind.set(typed($event))">
          <option value="">everything</option>
          @for (one of kinds; track one) {
            <option [value]="one">{{ one }}</option>
          }
        </select>
        <select aria-label="By whom" (change)="member.set(typed($event))">
          <option value="">by anybody</option>
          @for (one of team.value(); track one.id) {
            <option [value]="one.id">{{ one.name }}</option>
          }
        </select>
        <label>from <input type="date" aria-label="From day" (change)="from.set(typed($event))" /></label>
        <label>to <input type="date" aria-label="To day" (change)="to.set(typed($event))" /></label>
      </div>
      <cv-reading-problem [of]="audit" what="The log" />
      <ol tabindex="0" aria-label="Actions, newest first">
        @for (row of audit.value().rows; track row.id) {
          <li>
            <strong>{{ row.action }}</strong>&ngsp;<span class="rtl-safe">{{ row.what }}</span
            ><br /><span class="quiet small"
              >{{ row.by }}{{ row.address && ', ' + row.address }} · <cv-when [at]="row.at" [zone]="zone"
            /></span>
          </li>
        } @empty {
          @if (!audit.hasFailed()) {
            <li class="quiet">{{ isFiltered() ? 'Nothing of the kind.' : 'Nothing yet.' }}</li>
          }
        }
      </ol>
      <div class="row"><cv-pager [(after)]="before" [next]="audit.value().next" /></div>
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
    select {
      max-width: 160px;
    }
  `,
})
export class AuditLog {
  protected readonly typed = typed;
  private readonly api = inject(SettingsApi);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.me()?.organisation.zone ?? 'UTC';
  protected readonly kinds = auditKinds;
  protected readonly team = reading(() => this.api.team(), []);
  protected readonly kind = signal('');
  protected readonly member = signal('');
  protected readonly from = signal('');
  protected readonly to = signal('');
  private readonly filter = computed(() => {
    const { kind, member, from, to } = this;
    const all = { kind: kind(), member: member(), from: from(), to: to() };
    return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== ''));
  });
  protected readonly isFiltered = computed(() => Object.keys(this.filter()).length > 0);
  /** Another filter begins at its first page. */
  protected readonly before = linkedSignal({ source: this.filter, computation: () => 0 });
  protected readonly audit = readingOf(
    () => ({ ...this.filter(), ...(this.before() > 0 && { before: this.before() }) }),
    (query) => this.api.audit(query),
    nothing,
  );
  protected readonly csvAddress = computed(() => {
    const query = new URLSearchParams(this.filter()).toString();
    return `/api/audit.csv${query && `?${query}`}`;
  });
}
