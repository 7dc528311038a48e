import { TestBed } from '@angular/core/testing';
import { noWording, type CueRow, type RailAround } from '@convite/contract';
import { blankFacts, wallTimeAt, type EventFacts } from '@convite/core';
import { someAround } from '../../testing/cues';
import { Rail } from './rail';
import { layCues } from './rail-lanes';
import { railScale } from './rail-scale';

const start = Date.UTC(2031, 5, 18, 18, 30);
const cue = (id: number, hours: number, channel: 'email' | 'text' = 'email'): CueRow => ({
  textOf: null,
  id,
  name: `Cue ${id}`,
  channel,
  moment: { kind: 'fixed', wall: '2031-01-01T00:00' },
  audience: { invitees: [], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  wording: noWording,
  isDraft: false,
  hazards: [],
  does: '',
  firing: {
    id,
    state: 'set',
    dueAt: new Date(start + hours * 3_600_000).toISOString(),
    note: '',
    tally: { countedAt: '2026-10-01T00:00:00.000Z', finishAt: null, gets: 12_345, sent: 0, failed: 0, waiting: 0 },
    occurrence: null,
    zone: '',
    ownDay: null,
    step: null,
    otherZones: null,
  },
  ahead: [],
});

const facts: EventFacts = {
  ...blankFacts,
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
};
const around: RailAround = { ...someAround, farZones: ['America/New_York', 'Asia/Tokyo'] };

function draw(cues: CueRow[], inputs: Readonly<Record<string, unknown>> = {}) {
  const fixture = TestBed.createComponent(Rail);
  const all = { cues, facts, startAt: new Date(start).toISOString(), around, canMove: true, ...inputs };
  for (const [name, value] of Object.entries(all)) fixture.componentRef.setInput(name, value);
  fixture.detectChanges();
  const element: HTMLElement = fixture.nativeElement;
  const groups = [...element.querySelectorAll<SVGGElement>('g.cue')];
  const circles = groups.map((group) => group.querySelector('circle'));
  const moved: string[] = [];
  const picked: number[] = [];
  fixture.componentInstance.moved.subscribe(({ cue: { id }, toMs }) =>
    moved.push(`${id} ${wallTimeAt(toMs, facts.zone)}`),
  );
  fixture.componentInstance.startMoved.subscribe((toMs) => moved.push(`start ${wallTimeAt(toMs, facts.zone)}`));
  fixture.componentInstance.picked.subscribe(({ id }) => picked.push(id));
  return {
    groups,
    moved,
    picked,
    x: circles.map((circle) => Number(circle?.getAttribute('cx'))),
    y: circles.map((circle) => Number(circle?.getAttribute('cy'))),
    count: (selector: string) => element.querySelectorAll(selector).length,
    said: () => element.querySelector('[aria-live]')?.textContent ?? '',
    key: (of: Element | null | undefined, key: string, shiftKey = false) => {
      of?.dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true }));
      fixture.detectChanges();
    },
    point: (of: Element | null | undefined, name: string, clientX: number) => {
      of?.dispatchEvent(new PointerEvent(name, { clientX, button: 0, bubbles: true }));
      fixture.detectChanges();
    },
    start: () => element.querySelector('g.start'),
    box: () => element.querySelector('svg')?.getBoundingClientRect() ?? new DOMRect(),
  };
}

describe('Rail', () => {
  it('keeps time’s order, weeks small and hours large, channels in their lanes, and none covers another', () => {
    const { x, y } = draw([cue(1, -24 * 28), cue(2, -24 * 21), cue(3, -3), cue(5, 24), cue(4, -1, 'text')]);
    const [fourWeeks = 0, threeWeeks = 0, threeHours = 0, dayAfter = 0, oneHour = 0] = x;
    expect(
      [fourWeeks, threeWeeks, threeHours, oneHour, dayAfter].every((at, i, all) => i === 0 || at > (all[i - 1] ?? 0)),
    ).toBeTrue();
    expect((oneHour - threeHours) / 2).toBeGreaterThan((threeWeeks - fourWeeks) / (7 * 24));
    expect(y[2]).not.toBe(y[4] ?? 0);
    const many = draw(Array.from({ length: 40 }, (_, id) => cue(id + 1, -24 * (id % 20) - (id % 3))));
    const places = many.x.map((at, id) => ({ at, row: many.y[id] }));
    const covered = places.filter(
      (one) => places.filter(({ at, row }) => row === one.row && Math.abs(at - one.at) < 26).length > 1,
    );
    expect(covered).toEqual([]);
  });

  it('has a lane of its own for what cues do, where any does', () => {
    const lanesOf = (rows: CueRow[]) => layCues(rows, start, railScale([-24, -3])).lanes.map(({ channel }) => channel);
    expect(lanesOf([cue(1, -24)])).toEqual(['email', 'text']);
    expect(lanesOf([cue(1, -24), { ...cue(2, -3), act: { kind: 'join', list: 3 } }])).toEqual(['email', 'text', 'act']);
  });

  it('names each cue in full, and opens it by keyboard', () => {
    const { groups, picked, key } = draw([cue(1, -24)]);
    expect(groups[0]?.getAttribute('aria-label')).toBe(
      'Cue 1: set, Tue 17 Jun 2031 19:30 Lisbon, 12,345 people by email',
    );
    key(groups[0], 'Enter');
    expect(picked).toEqual([1]);
  });

  it('moves a cue by keys, by the step that fits, says what that means, and saves nothing until it is put there', () => {
    const rail = draw([cue(1, -24 * 10), cue(2, -24)]);
    rail.key(rail.groups[0], 'ArrowRight');
    rail.key(rail.groups[0], 'ArrowRight', true);
    expect(rail.said()).toBe(
      'on 2031-06-16 at 19:30 · Mon 16 Jun 2031 19:30 Lisbon · 14:30 New York · 03:30 Tokyo Tue 17 Jun · 12,345 people · 1 day before “Cue 2”',
    );
    expect(rail.moved).toEqual([]);
    rail.key(rail.groups[0], 'Enter');
    expect(rail.moved).toEqual(['1 2031-06-16T19:30']);
    expect(rail.picked).toEqual([]);
    rail.key(rail.groups[1], 'ArrowLeft');
    rail.key(rail.groups[1], 'Escape');
    rail.key(rail.groups[1], 'Enter');
    expect([rail.moved.length, rail.picked]).toEqual([1, [2]]);
  });

  it('moves a cue by pointing, from day to day at its clock time, by half-hours near the start; a press alone opens it', () => {
    const rail = draw([cue(1, -24 * 10), cue(2, -24)]);
    // A made-up pointer cannot be captured.
    spyOn(Element.prototype, 'setPointerCapture');
    const { left, width } = rail.box();
    const at = (x: number): number => left + (x * width) / 1300;
    const [one = 0, two = 0] = rail.x;
    rail.point(rail.groups[0], 'pointerdown', at(one));
    rail.point(rail.groups[0], 'pointermove', at((one + two) / 2));
    expect(rail.count('circle.ghost')).toBe(1);
    rail.point(rail.groups[0], 'pointerup', at((one + two) / 2));
    rail.groups[0]?.dispatchEvent(new MouseEvent('click', { bubbles: true }));
    expect(rail.moved.length).toBe(1);
    expect(rail.moved[0]).toMatch(/^1 2031-06-1[0-6]T19:30$/);
    expect(rail.picked).toEqual([]);
    rail.point(rail.groups[1], 'pointerdown', at(two));
    rail.point(rail.groups[1], 'pointermove', at(two + 1));
    rail.point(rail.groups[1], 'pointerup', at(two + 1));
    rail.groups[1]?.dispatchEvent(new MouseEvent('click', { bubbles: true }));
    expect([rail.moved.length, rail.picked]).toEqual([1, [2]]);
  });

  it('says why one stays that has gone, is held, or goes by dates of people; a viewer moves none', () => {
    const held = cue(1, -24);
    const rail = draw([{ ...held, firing: { ...held.firing, state: 'stopped' } }, cue(2, -2)]);
    rail.key(rail.groups[0], 'ArrowLeft');
    expect(rail.said()).toBe('It is held: set it again first.');
    const viewed = draw([cue(1, -24)], { canMove: false });
    viewed.key(viewed.groups[0], 'ArrowLeft');
    viewed.key(viewed.groups[0], 'Enter');
    expect([viewed.moved, viewed.picked, viewed.said()]).toEqual([[], [1], '']);
  });

  it('moves the start to see what would happen, and draws the dates of a series over each other', () => {
    const occurrence = { key: '20310625T193000', startAt: new Date(start + 7 * 86_400_000).toISOString() };
    const base = cue(1, -24).firing;
    const later = (hours: number) => ({
      ...base,
      id: 100 + hours,
      occurrence,
      dueAt: new Date(start + 7 * 86_400_000 - hours * 3_600_000).toISOString(),
    });
    const rail = draw([{ ...cue(1, -24), ahead: [later(24), later(30)] }], { allDates: true });
    expect([rail.count('circle.date'), rail.count('circle.differs')]).toEqual([2, 1]);
    rail.key(rail.start(), 'ArrowRight', true);
    rail.key(rail.start(), 'Enter');
    expect(rail.moved).toEqual(['start 2031-06-18T20:30']);
  });

  it('draws an empty countdown', () => expect(draw([]).groups.length).toBe(0));
});
