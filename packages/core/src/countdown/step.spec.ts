import { resolveWallTime, wallTimeAt } from '../time/wall-time';
import { goesByZones, sayMoment } from './moment';
import { isSlotOfPeople, movedSlot, occurrenceOfSlot, ownDayOfSlot, whoOfFiring } from './slot';
import {
  dueOfStep,
  isMinuteSlot,
  nextOfSteps,
  readStepSlot,
  reachOfStep,
  slotOfStep,
  spanOfStep,
  type StepMoment,
} from './step';
import { usualWorkdays } from '../time/workdays';
import { noAudience } from '../audience/audience';

const lisbon = 'Europe/Lisbon';
const at = (wall: string, zone = lisbon): number => resolveWallTime(wall, zone);
const after = (amount: number, unit: StepMoment['unit'], clock: string | null = null): StepMoment => ({
  kind: 'step',
  step: 'registration',
  amount,
  unit,
  at: clock,
});

describe('a moment counted from what a person does', () => {
  // When they did it, the moment, and when that comes, on the clock of that zone.
  const rows: [string, StepMoment, string, string][] = [
    // Exact, also over the hour that Lisbon's clocks leave out on 28 March 2027, and over the one that is there twice on 31 October.
    ['2027-03-27T23:30', after(2, 'hours'), lisbon, '2027-03-28T02:30'],
    ['2027-10-31T00:30', after(2, 'hours'), lisbon, '2027-10-31T01:30'],
    ['2027-06-18T19:30', after(90, 'minutes'), lisbon, '2027-06-18T21:00'],
    // Days go by the calendar: whoever did it on a day, at whatever hour.
    ['2027-03-26T23:59', after(2, 'days', '10:00'), lisbon, '2027-03-28T10:00'],
    ['2027-06-18T00:00', after(0, 'days', '18:00'), lisbon, '2027-06-18T18:00'],
    ['2027-01-31T12:00', after(1, 'months', '09:00'), lisbon, '2027-02-28T09:00'],
    ['2027-06-18T19:30', after(2, 'weeks', '10:00'), lisbon, '2027-07-02T10:00'],
    // A clock time that is none there: the offset before the gap is read (RFC 5545 §3.3.5).
    ['2027-03-27T12:00', after(1, 'days', '01:30'), lisbon, '2027-03-28T02:30'],
    // Half past seven in the evening there is the next morning in Tokyo.
    ['2027-06-19T03:30', after(1, 'days', '10:00'), 'Asia/Tokyo', '2027-06-20T10:00'],
    // A Friday and one day is a Saturday: the Monday after, never the day before it was done.
    ['2027-06-18T19:30', { ...after(1, 'days', '10:00'), onWorkdays: true }, lisbon, '2027-06-21T10:00'],
  ];
  for (const [did, moment, zone, expected] of rows)
    it(`${sayMoment(moment)}, done at ${did} in ${zone}, is ${expected}`, () => {
      const slot = slotOfStep(moment, at(did, zone), zone, '');
      expect(wallTimeAt(dueOfStep(moment, slot, zone, { workdays: usualWorkdays }) ?? 0, zone)).toBe(expected);
      const known = readStepSlot(slot);
      if (!known) throw new Error('it cannot be read');
      const { fromMs, toMs } = spanOfStep(known, zone);
      expect(fromMs <= at(did, zone) && at(did, zone) < toMs).toBe(true);
    });

  it('names its slot by the minute or the day, the step and the date, and reads that back', () => {
    const slot = slotOfStep(after(1, 'days', '10:00'), at('2027-06-18T19:30:00'), lisbon, '20270625T193000');
    expect(slot).toBe('r2027-06-18@20270625T193000');
    expect(readStepSlot(slot)).toEqual({
      step: 'registration',
      day: '2027-06-18',
      minuteMs: null,
      date: '20270625T193000',
    });
    const minute = slotOfStep(
      { ...after(1, 'hours'), step: 'invitation' },
      at('2027-06-18T19:30') + 59_999,
      lisbon,
      '',
    );
    expect([minute, isMinuteSlot(minute), isMinuteSlot(slot)]).toEqual(['i2027-06-18T18:30Z@', true, false]);
    expect([slot, minute, '20270625T193000', '2027-06-18', ''].map(occurrenceOfSlot)).toEqual([
      '20270625T193000',
      '',
      '20270625T193000',
      '',
      '',
    ]);
    expect([slot, '2027-06-18', '20270618T193000', 'x@y'].map(isSlotOfPeople)).toEqual([true, true, false, false]);
    expect([slot, '2027-06-18'].map(ownDayOfSlot)).toEqual([null, '2027-06-18']);
    expect(movedSlot(slot, () => '20270626T193000')).toBe('r2027-06-18@20270626T193000');
    expect(movedSlot(minute, () => 'never')).toBe(minute);
    expect(movedSlot('20270625T193000', () => null)).toBe('20270625T193000');
  });

  it('has no moment for a slot of another: what was planned before the cue was changed goes', () => {
    const slot = slotOfStep(after(1, 'days', '10:00'), at('2027-06-18T19:30'), lisbon, '');
    expect(dueOfStep(after(1, 'hours'), slot, lisbon)).toBeNull();
    expect(dueOfStep({ ...after(1, 'days', '10:00'), step: 'invitation' }, slot, lisbon)).toBeNull();
    expect(dueOfStep(after(1, 'days', '10:00'), '', lisbon)).toBeNull();
  });

  it('goes by zones only where it has a clock time, and reaches back as far as anybody may have done it', () => {
    const byPerson = { clock: 'person' } as const;
    expect(goesByZones({ ...after(1, 'days', '10:00'), ...byPerson })).toBe(true);
    expect(goesByZones({ ...after(1, 'hours'), ...byPerson })).toBe(false);
    for (const moment of [after(72, 'hours'), after(40, 'days', '10:00'), after(12, 'months', '23:59')]) {
      const did = at('2027-06-18T00:00');
      const due = dueOfStep(moment, slotOfStep(moment, did, lisbon, ''), lisbon) ?? Infinity;
      expect(due - did).toBeLessThan(reachOfStep(moment));
    }
  });

  it('is for those who took the step in its span, about its date', () => {
    const moment = after(1, 'days', '10:00');
    const around = { moment, isPersonal: false, homeZone: lisbon, zones: [] };
    const of = (slot: string, zone = '') =>
      whoOfFiring({ ...noAudience, lists: [1] }, { eventId: 5, cueId: 2, slot, zone }, around).in;
    expect(of('r2027-06-18@d1')).toEqual({
      kind: 'all',
      of: [
        { kind: 'list', lists: [1] },
        {
          kind: 'step',
          step: 'registration',
          about: { event: 5, date: 'd1' },
          fromMs: at('2027-06-18T00:00'),
          toMs: at('2027-06-19T00:00'),
        },
      ],
    });
    expect(JSON.stringify(of('r2027-06-18@', 'Asia/Tokyo'))).toContain(`${at('2027-06-18T00:00', 'Asia/Tokyo')}`);
    // A slot that cannot be read is for nobody.
    expect(of('2027')).toEqual({
      kind: 'all',
      of: [
        { kind: 'list', lists: [1] },
        { kind: 'any', of: [] },
      ],
    });
  });

  it('comes next for the step whose moment is next, else stood for the last; for who took another, never', () => {
    const moment = after(1, 'days', '10:00');
    const taken = ['2027-06-20', '2027-06-10', '2027-06-15'].map((day) => ({
      step: 'registration' as const,
      atMs: at(`${day}T12:00`),
      date: day,
    }));
    const on = (day: string, some: readonly (typeof taken)[number][] = taken) =>
      nextOfSteps(moment, some, lisbon, at(`${day}T11:00`))?.date;
    expect([on('2027-06-01'), on('2027-06-11'), on('2027-06-16'), on('2027-07-01')]).toEqual([
      '2027-06-10',
      '2027-06-15',
      '2027-06-20',
      '2027-06-20',
    ]);
    expect(on('2027-06-01', [])).toBeUndefined();
    expect(nextOfSteps({ ...moment, step: 'invitation' }, taken, lisbon, 0)).toBeNull();
  });
});
