import { TestBed } from '@angular/core/testing';
import { of } from 'rxjs';
import type { Moment } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { openScreen } from '../testing/screen';
import { CueMoment } from './cue-moment';

const relative: Moment = {
  kind: 'relative',
  amount: 1,
  unit: 'days',
  direction: 'before',
  anchor: 'start',
  at: '10:00',
};
const fields = [
  { id: 3, name: 'Birthday', type: 'date' },
  { id: 4, name: 'Town', type: 'text' },
];

describe('CueMoment, by whose clock and whose dates,', () => {
  const open = async (moment: Moment, known = fields) => {
    const emitted: Moment[] = [];
    TestBed.resetTestingModule();
    const api = { provide: AudienceApi, useValue: { fields: () => of(known) } };
    const screen = await openScreen(CueMoment, { moment, zone: 'Europe/Lisbon' }, [api]);
    screen.fixture.componentInstance.momentChange.subscribe((one) => emitted.push(one));
    const choose = (label: string, value: string): Moment | undefined => {
      const box = screen.element.querySelector<HTMLSelectElement | HTMLInputElement>(`[aria-label="${label}"]`);
      if (!box) throw new Error(`no ${label}`);
      box.value = value;
      box.dispatchEvent(new Event(box instanceof HTMLSelectElement ? 'change' : 'input'));
      return emitted.at(-1);
    };
    return { ...screen, choose, momentChange: () => emitted.at(-1) };
  };

  it('goes by each person’s own clock where a clock time is set, and says what becomes of who has no zone', async () => {
    const { choose } = await open(relative);
    expect(choose('On whose clock', 'person')).toEqual({ ...relative, clock: 'person' });
    const byPerson = await open({ ...relative, clock: 'person' });
    expect(byPerson.text()).toContain('whose zone is not known, on the clock of Lisbon');
    expect((await open({ ...relative, at: null })).element.querySelector('[aria-label="On whose clock"]')).toBeNull();
  });

  it('counts in months, from the publication, which comes before nothing, and gives way to free days', async () => {
    const { choose, tick, momentChange } = await open(relative);
    expect(choose('Unit', 'months')).toEqual({ ...relative, unit: 'months' });
    expect(choose('Of what', 'publication')).toEqual({ ...relative, anchor: 'publication', direction: 'after' });
    await tick('on working days only');
    expect(momentChange()).toEqual({ ...relative, onWorkdays: true });
  });

  it('counts from what each person does: after it alone, days with a clock time, hours and minutes without one', async () => {
    const { choose } = await open(relative);
    const step = choose('Kind of moment', 'step');
    expect(step).toEqual({ kind: 'step', step: 'registration', amount: 1, unit: 'days', at: '10:00' });
    if (!step) return;
    const chosen = await open(step);
    expect(chosen.element.querySelector('[aria-label="Before or after"]')).toBeNull();
    expect(chosen.choose('After what', 'invitation')).toEqual({ ...step, step: 'invitation' } as Moment);
    expect(chosen.choose('How many', '3')).toEqual({ ...step, amount: 3 } as Moment);
    const exact = chosen.choose('Unit', 'hours');
    expect(exact).toEqual({ ...step, unit: 'hours', at: null } as Moment);
    if (!exact) return;
    const hours = await open(exact);
    expect(hours.text()).toContain('up to three days, are exact');
    expect(hours.element.querySelector('[aria-label="On whose clock"]')).toBeNull();
    expect(hours.choose('Unit', 'weeks')).toEqual({ ...step, unit: 'weeks', at: '10:00' } as Moment);
  });

  it('counts from a date of each person, of which only fields of dates are offered', async () => {
    const { choose } = await open(relative);
    const own = choose('Kind of moment', 'own-date');
    expect(own).toEqual({
      kind: 'own-date',
      field: 3,
      repeats: 'yearly',
      amount: 0,
      unit: 'days',
      direction: 'before',
      at: '10:00',
    });
    if (!own) throw new Error('nothing was chosen');
    const chosen = await open(own);
    expect(chosen.text()).toContain('their Birthday');
    expect(chosen.text()).not.toContain('their Town');
    expect(chosen.choose('Unit', 'weeks')).toEqual(jasmine.objectContaining({ unit: 'weeks' }));
    expect(chosen.choose('How often', 'once')).toEqual(jasmine.objectContaining({ repeats: 'once' }));
    expect((await open(own, [])).text()).toContain('No field of people holds a date yet');
  });
});

describe('CueMoment', () => {
  it('is a sentence with boxes: counted, at a clock time, or fixed', async () => {
    const moments: Moment[] = [];
    const { fixture, find, type, settle, text } = await openScreen(CueMoment, {
      moment: { ...relative, amount: 24, unit: 'hours', at: null },
      zone: 'Europe/Lisbon',
    });
    fixture.componentInstance.momentChange.subscribe((moment) => {
      moments.push(moment);
      fixture.componentRef.setInput('moment', moment);
    });
    await type('input[type=number]', '1200');
    await type('select[aria-label=Unit]', 'weeks', 'change');
    find('input[type=checkbox]').click();
    await settle();
    expect(moments.at(-1)).toEqual({
      kind: 'relative',
      amount: 1000,
      unit: 'weeks',
      direction: 'before',
      anchor: 'start',
      at: '10:00',
    });
    expect(text()).toContain('Lisbon time');
    await type('select[aria-label="Kind of moment"]', 'fixed', 'change');
    await type('cv-time-field input', '2031-06-17T09:00');
    expect(moments.at(-1)).toEqual({ kind: 'fixed', wall: '2031-06-17T09:00' });
  });
});
