import { ChangeDetectionStrategy, Component, computed, forwardRef, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { isGroup, segmentBounds, type Segment, type SegmentCondition } from '@convite/core';
import { chosenOf } from '../ui/typed';
import { blankCondition } from './condition-kinds';
import { ConditionRow } from './condition-row';
import type { SegmentAround } from './segment-around';

export type Group = Extract<Segment, { of: readonly Segment[] }>;
const groupKinds = ['all', 'any', 'none'] as const;
const groupWords = { all: 'all of these', any: 'any of these', none: 'none of these' } as const;

/** Conditions that belong together: all of them, any of them, or none; groups may stand in groups. */
@Component({
  selector: 'cv-condition-group',
  imports: [ConditionRow, forwardRef(() => ConditionGroup), MatButtonModule, MatFormFieldModule, MatInputModule],
  host: { role: 'group', '[attr.aria-label]': 'groupWords[group().kind]' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><select matNativeControl aria-label="How these belong together" (change)="turn($event)">
          @for (kind of groupKinds; track kind) {
            <option [value]="kind" [selected]="group().kind === kind">{{ groupWords[kind] }}</option>
          }
        </select></mat-form-field
      >
      <button matButton type="button" (click)="add()">Add a condition</button>
      @if (canNest()) {
        <button matButton type="button" (click)="nest()">Add a group</button>
      }
      <ng-content />
    </div>
    @for (part of group().of; track $index) {
      <div class="part" [class.so]="mark($index) === true" [class.not]="mark($index) === false">
        @if (mark($index) !== null) {
          <span class="mark small">{{ mark($index) ? 'so' : 'not so' }}</span>
        }
        @if (asGroup(part); as inner) {
          <cv-condition-group
            [group]="inner"
            [around]="around()"
            [depth]="depth() + 1"
            [path]="pathTo($index)"
            [marks]="marks()"
            (changed)="put($index, $event)"
          >
            <button class="link small" type="button" (click)="drop($index)">Take the group out</button>
          </cv-condition-group>
        } @else if (asCondition(part); as condition) {
          <cv-condition-row [condition]="condition" [around]="around()" (changed)="put($index, $event)" />
          <button
            class="link small"
            type="button"
            [attr.aria-label]="'Take condition ' + ($index + 1) + ' out'"
            (click)="drop($index)"
          >
            Take it out
          </button>
        }
      </div>
    } @empty {
      <p class="small alarm">Nothing is asked here yet.</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 8px;
      padding: 8px 0 8px 14px;
      border-left: 2px solid var(--line);
    }
    .part {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 4px 10px;
      align-items: start;
    }
    cv-condition-group {
      grid-column: 1 / -1;
    }
    .mark {
      grid-column: 1 / -1;
      font-weight: 650;
    }
    .so .mark {
      color: var(--yes);
    }
    .not .mark {
      color: var(--alarm);
    }
    @media (max-width: 700px) {
      .part {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class ConditionGroup {
  protected readonly groupKinds = groupKinds;
  protected readonly groupWords = groupWords;
  readonly group = input.required<Group>();
  readonly around = input.required<SegmentAround>();
  readonly depth = input(1);
  readonly path = input<readonly number[]>([]);
  /** Of each part, by its path, whether it is so of whom somebody looks at; null while nobody is looked at. */
  readonly marks = input<ReadonlyMap<string, boolean> | null>(null);
  readonly changed = output<Group>();
  protected readonly canNest = computed(() => this.depth() + 1 < segmentBounds.depth);

  protected readonly asGroup = (part: Segment): Group | null => (isGroup(part) ? part : null);
  protected readonly asCondition = (part: Segment): SegmentCondition | null => (isGroup(part) ? null : part);
  protected readonly pathTo = (index: number): number[] => [...this.path(), index];
  protected mark(index: number): boolean | null {
    return this.marks()?.get(this.pathTo(index).join()) ?? null;
  }
  protected turn(event: Event): void {
    const kind = chosenOf(groupKinds, event);
    if (kind) this.changed.emit({ ...this.group(), kind });
  }
  protected add(): void {
    this.of([...this.group().of, blankCondition('list')]);
  }
  protected nest(): void {
    const kind = this.group().kind === 'any' ? 'all' : 'any';
    this.of([...this.group().of, { kind, of: [blankCondition('list')] }]);
  }
  protected put(index: number, part: Segment): void {
    this.of(this.group().of.map((one, at) => (at === index ? part : one)));
  }
  protected drop(index: number): void {
    this.of(this.group().of.filter((_, at) => at !== index));
  }
  private of(of: readonly Segment[]): void {
    this.changed.emit({ ...this.group(), of });
  }
}
