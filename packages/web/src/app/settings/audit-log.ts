import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatButtonModule } from '@angular/material/button';
import { auditKinds } from '@convite/contract';
import { isDay } from '@convite/core';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { TimeField } from '../ui/time/time-field';
import { When } from '../ui/when';
import { typed } from '../ui/typed';

/** Every action that reached subscribers or changed the house, with who, when and from where. */
@Component({
  selector: 'cv-audit-log',
  imports: [Cell, MatButtonModule, MatFormFieldModule, MatInputModule, Table, TimeField, When],
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
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="What was done" (change)="kind.set(typed($event))">
            <option value="">everything</option>
            @for (one of kinds; track one) {
              <option [value]="one">{{ one }}</option>
            }
          </select></mat-form-field
        >
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="By whom" (change)="member.set(typed($event))">
            <option value="">by anybody</option>
            @for (one of team.value(); track one.id) {
              <option [value]="one.id">{{ one.name }}</option>
            }
          </select></mat-form-field
        >
        <cv-time-field label="From day" kind="day" [isTerse]="true" [(value)]="from" />
        <cv-time-field label="To day" kind="day" [isTerse]="true" [(value)]="to" />
      </div>
      <cv-table label="Audit log" [source]="audit" [columns]="columns">
        <span empty>{{ isFiltered() ? 'Nothing of the kind.' : 'Nothing yet.' }}</span>
        <ng-template cvCell="what" [cvCellOf]="audit" let-row>
          <strong>{{ row.action }}</strong>&ngsp;<span class="rtl-safe wrap">{{ row.what }}</span>
        </ng-template>
        <ng-template cvCell="by" [cvCellOf]="audit" let-row
          >{{ row.by }}{{ row.address && ', ' + row.address }}</ng-template
        >
        <ng-template cvCell="at" [cvCellOf]="audit" let-row><cv-when [at]="row.at" [zone]="zone" /></ng-template>
      </cv-table>
    </section>
  `,
  styles: `
    select {
      max-width: 160px;
    }
  `,
})
export class AuditLog {
  protected readonly typed = typed;
  private readonly api = inject(SettingsApi);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  protected readonly kinds = auditKinds;
  protected readonly team = reading(() => this.api.team(), []);
  protected readonly kind = signal('');
  protected readonly member = signal('');
  protected readonly from = signal('');
  protected readonly to = signal('');
  private readonly filter = computed(() => {
    const { kind, member, from, to } = this;
    const dayOf = (text: string): string => (isDay(text) ? text : '');
    const all = { kind: kind(), member: member(), from: dayOf(from()), to: dayOf(to()) };
    return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== ''));
  });
  protected readonly isFiltered = computed(() => Object.keys(this.filter()).length > 0);
  protected readonly columns: readonly Column[] = [
    { key: 'what', label: 'What was done', onCard: 'title' },
    { key: 'by', label: 'By whom', onCard: 'fact' },
    { key: 'at', label: 'When', onCard: 'fact' },
  ];
  protected readonly audit = rowSource(
    () => this.filter(),
    (filter, before) => this.api.audit({ ...filter, ...(before !== null && { before: Number(before) }) }),
  );
  protected readonly csvAddress = computed(() => {
    const query = new URLSearchParams(this.filter()).toString();
    return `/api/audit.csv${query && `?${query}`}`;
  });
}
