import { TestBed } from '@angular/core/testing';
import type { EventFacts } from '@convite/core';
import { openScreen, someFacts } from '../testing/screen';
import { SharedClock } from '../ui/shared-clock';
import { EventForm } from './event-form';

describe('EventForm', () => {
  const open = async (facts: Partial<EventFacts> = {}, inputs: Readonly<Record<string, unknown>> = {}) => {
    const screen = await openScreen(EventForm, { facts: { ...someFacts, ...facts }, ...inputs }, [
      { provide: SharedClock, useValue: { nowMs: () => Date.UTC(2031, 0, 1) } },
    ]);
    const changes: EventFacts[] = [];
    screen.fixture.componentInstance.factsChange.subscribe((changed) => changes.push(changed));
    const tick = async (control: string): Promise<void> => {
      screen.find(`mat-checkbox[formcontrolname=${control}] input`).click();
      await screen.settle();
    };
    const times = ['start', 'end', 'firstDay', 'lastDay', 'zone', 'endZone'];
    const field = (control: string): string =>
      `[formcontrolname=${control}]${times.includes(control) ? ' input:not([hidden])' : ''}`;
    /** Types, and leaves the field. */
    const type = async (selector: string, text: string): Promise<void> => {
      await screen.type(selector, text);
      screen.find(selector).dispatchEvent(new FocusEvent('focusout', { bubbles: true }));
      await screen.settle();
    };
    return { ...screen, type, tick, field, last: () => changes.at(-1) };
  };

  it('checks as one types, by the same check that guards the server', async () => {
    const { type, field, text } = await open();
    await type(field('title'), '');
    expect(text()).toContain('This must be filled in.');
    await type(field('end'), '2031-06-18T19:00');
    expect(text()).toContain('The end must come after the start.');
    await type(field('zone'), 'Europe/Lisboa');
    expect(text()).toContain('“Europe/Lisboa” is not a time zone.');
    await type(field('joinLink'), 'meet me');
    expect(text()).toContain('This must be a whole web address');
  });

  it('says what a clock change makes of a time, in the zone of the start and of the end', async () => {
    const { type, field, tick, text } = await open();
    await type(field('start'), '2031-03-30T01:30');
    await type(field('end'), '2031-03-30T04:00');
    expect(text()).toContain('Sun 30 Mar 2031 01:30Clocks are put forward over this time: it means 02:30.');
    await type(field('start'), '2031-10-26T01:30');
    await type(field('end'), '2031-10-26T04:00');
    expect(text()).toContain('this time comes twice. The first is meant.');
    await type(field('start'), '2031-11-02T00:30');
    await type(field('end'), '2031-11-02T01:30');
    expect(text()).not.toContain('Clocks are put');
    await tick('endsElsewhere');
    await type(field('endZone'), 'America/New_York');
    expect(text()).toContain('this time comes twice. The first is meant.');
  });

  it('takes an end in another zone: an arrival earlier by its own clock is not before the start', async () => {
    const { type, field, tick, text, last } = await open({
      span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T18:30' },
    });
    expect(text()).not.toContain('The end must come after the start.');
    await type(field('end'), '2031-06-18T18:30');
    expect(text()).toContain('The end must come after the start.');
    await tick('endsElsewhere');
    await type(field('endZone'), 'Atlantic/Azores');
    await type(field('end'), '2031-06-18T19:00');
    expect(text()).not.toContain('The end must come after the start.');
    expect(last()?.endZone).toBe('Atlantic/Azores');
    await tick('endsElsewhere');
    expect(last()?.endZone).toBe('');
  });

  it('turns into whole days and back without losing the times', async () => {
    const { tick, type, field, last } = await open();
    await tick('allDay');
    expect(last()?.span).toEqual({ kind: 'all-day', firstDay: '2031-06-18', lastDay: '2031-06-18' });
    await tick('allDay');
    expect(last()?.span).toEqual(someFacts.span);
    await tick('allDay');
    await type(field('firstDay'), '2031-06-19');
    await type(field('lastDay'), '2031-06-20');
    expect(last()?.span).toEqual({ kind: 'all-day', firstDay: '2031-06-19', lastDay: '2031-06-20' });
    await tick('allDay');
    const { start = '', end = '' } = { start: '', end: '', ...last()?.span };
    expect([start.slice(0, 10), end.slice(0, 10)]).toEqual(['2031-06-19', '2031-06-20']);
  });

  it('keeps the days of an event for whole days that becomes one for hours, and the other way round', async () => {
    const days = { kind: 'all-day', firstDay: '2031-06-18', lastDay: '2031-06-19' } as const;
    const { tick, last } = await open({ span: days });
    await tick('allDay');
    expect(last()?.span).toEqual({ kind: 'timed', start: '2031-06-18T20:00', end: '2031-06-19T22:00' });
    await tick('allDay');
    expect(last()?.span).toEqual(days);
  });

  it('has no rule where everybody has their own time, nor for one date of a series', async () => {
    const { tick, element, last } = await open({ series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] } });
    expect(element.querySelector('cv-rule-editor')).not.toBeNull();
    await tick('isPersonal');
    expect(element.querySelector('cv-rule-editor')).toBeNull();
    expect(last()?.series).toBeNull();
    TestBed.resetTestingModule();
    const date = await open({}, { canRepeat: false });
    expect(date.element.querySelector('cv-rule-editor')).toBeNull();
    expect(date.find(date.field('zone')).disabled).toBeTrue();
  });

  it('shows what the server found, and keeps the entry’s choices that it does not show', async () => {
    const entry = { ...someFacts.entry, colour: 'teal' };
    const { text, type, field, last } = await open(
      { entry },
      { serverProblems: [{ code: 'too-long', path: 'venue', facts: { most: 500 } }] },
    );
    expect(text()).toContain('This is too long; 500 characters at the most.');
    await type(field('title'), 'Dome night, late');
    expect(last()).toEqual({ ...someFacts, entry, title: 'Dome night, late' });
  });
});
