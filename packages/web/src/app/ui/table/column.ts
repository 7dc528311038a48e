import { Directive, inject, input, TemplateRef } from '@angular/core';
import type { RowSource } from './row-source';

/** A column of a table. */
export interface Column {
  readonly key: string;
  /** Its head; what needs none says it to those who hear it all the same. */
  readonly label: string;
  readonly isLabelHidden?: boolean;
  /** Right-aligned, digits under digits. */
  readonly isNumber?: boolean;
  /** On a phone a row is a card: its title, or one of the facts that matter. Others are left out there. */
  readonly onCard?: 'title' | 'fact';
  /** Can be sorted by; first in this direction. */
  readonly sort?: 'asc' | 'desc';
  /** Not shown until somebody chooses it. */
  readonly isExtra?: boolean;
}

/** What a cell of one column says: `<ng-template cvCell="name" [cvCellOf]="source" let-row>`. */
@Directive({ selector: 'ng-template[cvCell]' })
export class Cell<T> {
  readonly cvCell = input.required<string>();
  /** Says of what type the rows are. */
  readonly cvCellOf = input.required<RowSource<T>>();
  readonly template = inject<TemplateRef<{ $implicit: T }>>(TemplateRef);

  static ngTemplateContextGuard<T>(_cell: Cell<T>, context: unknown): context is { $implicit: T } {
    return typeof context === 'object';
  }
}
