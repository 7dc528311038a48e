import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { openScreen, rest } from '../../testing/screen';
import { SharedClock } from '../shared-clock';
import { ClockField } from './clock-field';
import { Habits } from './habits';
import { TimeField } from './time-field';

@Component({
  selector: 'cv-some-form',
  imports: [ReactiveFormsModule, TimeField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<cv-time-field label="Starts" zone="Europe/Lisbon" [kind]="kind()" [formControl]="control" />`,
})
class SomeForm {
  readonly kind = signal<'time' | 'day'>('time');
  readonly control = new FormControl('');
}

describe('TimeField', () => {
  const open = async () => {
    const screen = await openScreen(SomeForm, {}, [
      { provide: SharedClock, useValue: { nowMs: () => Date.UTC(2026, 10, 26, 10) } },
    ]);
    const { control } = screen.fixture.componentInstance;
    const input = screen.find('input:not([hidden])');
    const type = (text: string) => screen.type('input:not([hidden])', text);
    const leave = async (): Promise<void> => {
      input.dispatchEvent(new Event('blur'));
      await screen.settle();
    };
    return { ...screen, control, input, type, leave };
  };

  it('reads what is typed, leaves it alone while one types, and says it as people do once one leaves', async () => {
    const { control, input, type, leave, text } = await open();
    await type('fri 20:30');
    expect([control.value, input.value]).toEqual(['2026-11-27T20:30', 'fri 20:30']);
    expect(text()).toContain('Fri 27 Nov 2026 20:30');
    await leave();
    expect([input.value, control.touched]).toEqual(['Fri 27 Nov 2026 20:30', true]);
  });

  it('counts from what stood there before, not from what is being typed', async () => {
    const { control, type, leave } = await open();
    control.setValue('2026-12-24T19:30');
    await type('+1');
    await type('+1d');
    expect(control.value).toBe('2026-12-25T19:30');
    await leave();
    await type('+1w');
    expect(control.value).toBe('2027-01-01T19:30');
  });

  it('keeps the clock time where only a day is typed, and the day where only a time is', async () => {
    const { control, type, leave } = await open();
    control.setValue('2026-12-24T19:30');
    await type('31 dec');
    expect(control.value).toBe('2026-12-31T19:30');
    await leave();
    await type('9pm');
    expect(control.value).toBe('2026-12-31T21:00');
  });

  it('loses nothing that it cannot read, and says what would do; a day without a time is asked for one', async () => {
    const { control, input, type, leave, text } = await open();
    await type('some time soon');
    expect(text()).not.toContain('cannot be read');
    await leave();
    expect([control.value, input.value]).toEqual(['some time soon', 'some time soon']);
    expect(text()).toContain('“some time soon” cannot be read.');
    await type('24 dec');
    await leave();
    expect(text()).toContain('Thu 24 Dec 2026: at what time?');
  });

  it('reads numbers in the order of the house, and a day alone where that is asked for', async () => {
    const { control, fixture, type } = await open();
    fixture.debugElement.injector.get(Habits).dayOrder.set('month-first');
    fixture.componentInstance.kind.set('day');
    await type('12/1');
    expect(control.value).toBe('2026-12-01');
  });

  it('takes a day from the calendar and keeps the time', async () => {
    const { control, find, settle } = await open();
    control.setValue('2026-12-24T19:30');
    await settle();
    find<HTMLButtonElement>('mat-datepicker-toggle button').click();
    await settle();
    const day = [...document.querySelectorAll<HTMLElement>('.mat-calendar-body-cell')].find(
      (one) => one.textContent?.trim() === '31',
    );
    day?.click();
    await settle();
    expect(control.value).toBe('2026-12-31T19:30');
  });

  it('takes a day from the calendar, asks at what time, and takes it from the list; a time that stands there stays', async () => {
    const { control, find, settle } = await open();
    const pickDay = async (day: string): Promise<void> => {
      find('mat-datepicker-toggle button').click();
      await settle();
      const cell = [...document.querySelectorAll<HTMLElement>('.mat-calendar-body-cell')].find(
        (one) => one.textContent?.trim() === day,
      );
      cell?.click();
      // The calendar gives the focus back before it is closed.
      await rest(settle);
    };
    const hours = () => [...document.querySelectorAll<HTMLElement>('.mat-timepicker-panel mat-option')];
    await pickDay('30');
    expect(control.value).toBe('2026-11-30');
    hours()
      .find((one) => one.textContent?.trim() === '20:30')
      ?.click();
    await settle();
    expect([control.value, document.activeElement]).toEqual(['2026-11-30T20:30', find('input:not([hidden])')]);
    await pickDay('28');
    expect([control.value, hours().length]).toEqual(['2026-11-28T20:30', 0]);
  });
});

@Component({
  selector: 'cv-clock-form',
  imports: [ReactiveFormsModule, ClockField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<cv-clock-field label="At" [formControl]="control" />`,
})
class ClockForm {
  readonly control = new FormControl('');
}

describe('ClockField', () => {
  it('takes a time from a list of half hours as well as typed', async () => {
    const { fixture, find, settle, type } = await openScreen(ClockForm, {});
    const { control } = fixture.componentInstance;
    find('mat-timepicker-toggle button').click();
    await settle();
    const offered = [...document.querySelectorAll<HTMLElement>('mat-option')];
    expect([offered.length, offered[1]?.textContent?.trim()]).toEqual([48, '00:30']);
    offered.find((one) => one.textContent?.trim() === '13:30')?.click();
    await settle();
    expect([control.value, find('input:not([hidden])').value]).toEqual(['13:30', '13:30']);
    await type('input:not([hidden])', '8:15pm');
    expect(control.value).toBe('20:15');
  });
});
