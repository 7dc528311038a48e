import { Directive, input, model, signal } from '@angular/core';
import type { ControlValueAccessor } from '@angular/forms';

/** A field whose value is a text: a control of a form, or a plain field with a value that changes. */
@Directive()
export abstract class TypedControl implements ControlValueAccessor {
  readonly label = input.required<string>();
  /** What the field means, or what was typed while it means nothing. For forms without controls. */
  readonly value = model('');
  protected readonly isDisabled = signal(false);
  private changed: (value: string) => void = () => undefined;
  protected touched: () => void = () => undefined;

  writeValue(value: string | null): void {
    if (value === this.value()) return;
    this.value.set(value ?? '');
    this.written();
  }
  registerOnChange(changed: (value: string) => void): void {
    this.changed = changed;
  }
  registerOnTouched(touched: () => void): void {
    this.touched = touched;
  }
  setDisabledState(isDisabled: boolean): void {
    this.isDisabled.set(isDisabled);
  }
  /** Another value was put into it from outside. */
  protected written(): void {
    // Most fields show their value as it is.
  }
  protected set(value: string): void {
    this.value.set(value);
    this.changed(value);
  }
}
