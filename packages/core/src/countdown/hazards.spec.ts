import { resolveWallTime } from '../time/wall-time';
import { findHazards, usualRules, type Hazard, type HazardRules, type WatchedFiring } from './hazards';

const zone = 'Europe/Lisbon';
const at = (wall: string): number => resolveWallTime(wall, zone);
const now = at('2026-11-27T09:02');
const start = at('2026-12-02T20:30');
const firing = (id: number, dueMs: number, over: Partial<WatchedFiring> = {}): WatchedFiring => ({
  ...{
    id,
    state: 'set',
    dueMs,
    startMs: start,
    countsDown: true,
    finishMs: null,
    gets: 40,
    isTested: true,
    closesMs: null,
  },
  ...over,
});
const hazardsOf = (firings: readonly WatchedFiring[], over: Partial<HazardRules> = {}): Hazard[][] => [
  ...findHazards(firings, { ...usualRules, zone, ...over }, now).values(),
];
/** Each with where it would be mended, as the event's clocks say it. */
const said = ({ code, toMs }: Hazard): string =>
  toMs === null ? code : `${code} → ${new Date(toMs).toISOString().slice(0, 16)}`;
const one = (dueMs: number, over: Partial<WatchedFiring> = {}, rules: Partial<HazardRules> = {}): string[] =>
  (hazardsOf([firing(1, dueMs, over)], rules)[0] ?? []).map(said);

describe('The hazards of a firing, each with where it would be rid of it', () => {
  it('past, and closer than it stands by, which the house chooses', () => {
    expect(one(now - 1)).toEqual(['past → 2026-11-27T09:15']);
    expect(one(now)).toEqual(['too-near → 2026-11-27T09:15']);
    expect(one(now + 599_999)).toEqual(['too-near → 2026-11-27T09:15']);
    expect(one(now + 600_000)).toEqual([]);
    expect(one(now + 600_000, {}, { standbyMs: 3_600_000 })).toEqual(['too-near → 2026-11-27T10:05']);
    expect(one(now - 1, { startMs: now + 60_000 })).toEqual(['past']);
  });

  it('after the start, and one that would not be out before it', () => {
    expect(one(start)).toEqual(['after-start → 2026-12-02T19:30']);
    expect(one(start, { countsDown: false })).toEqual([]);
    const due = at('2026-12-02T18:30');
    expect(one(due, { finishMs: start })).toEqual(['not-done-by-start → 2026-12-02T18:20']);
    expect(one(due, { finishMs: start + 1_800_000 })).toEqual(['not-done-by-start → 2026-12-02T17:50']);
    expect(one(due, { finishMs: start - 1 })).toEqual([]);
    expect(one(due, { finishMs: start + 30 * 86_400_000 })).toEqual(['not-done-by-start']);
  });

  it('people: in quiet hours where they are, over their limit, not shown its join link, or of no name though it says one', () => {
    const due = at('2026-11-30T10:00');
    const none = { inQuiet: 0, overLimit: 0, nameless: 0, noJoinLink: 0 };
    const of = (doubts: Partial<typeof none>, dueMs = due): [string, number | undefined][] =>
      (hazardsOf([firing(1, dueMs, { doubts: { ...none, ...doubts } })])[0] ?? []).map((found) => [
        said(found),
        found.people,
      ]);
    expect(of({})).toEqual([]);
    // It is no night where the event is, so that another moment there mends nothing.
    expect(of({ inQuiet: 12 })).toEqual([['quiet-hours', 12]]);
    const night = at('2026-11-30T23:00');
    expect(of({ inQuiet: 12 }, night)).toEqual([['quiet-hours → 2026-12-01T08:00', 12]]);
    expect(of({ inQuiet: 0 }, night)).toEqual([]);
    expect(of({ overLimit: 3, nameless: 7, noJoinLink: 219 })).toEqual([
      ['over-limit', 3],
      ['no-join-link', 219],
      ['nameless', 7],
    ]);
    expect(one(night, { doubts: { inQuiet: null, overLimit: null, nameless: null, noJoinLink: null } })).toEqual([
      'quiet-hours → 2026-12-01T08:00',
    ]);
  });

  it('close to another, of this event or of one that asks for the same people: moved to the nearest place that is free', () => {
    const due = at('2026-11-30T10:00');
    const minute = 60_000;
    const pair = hazardsOf([firing(1, due), firing(2, due + 9 * minute), firing(3, due + 18 * minute)]);
    // Eight minutes past ten would be right for the second but for the third.
    expect(pair.map((found) => found.map(said))).toEqual([
      ['close-to-another → 2026-11-30T09:59'],
      ['close-to-another → 2026-11-30T10:28'],
      ['close-to-another → 2026-11-30T10:19'],
    ]);
    expect(pair[0]?.[0]?.otherId).toBe(2);
    expect(one(due, { others: [{ id: 9, dueMs: due - 10 * minute }] })).toEqual([]);
    expect(one(due, { others: [{ id: 9, dueMs: due - minute }] })).toEqual(['close-to-another → 2026-11-30T10:09']);
    expect(hazardsOf([firing(1, due), firing(2, due, { state: 'stopped' })])).toEqual([[], []]);
    // An email and its text go together; what is moved away from the other no more.
    const together = [firing(1, due, { pair: 7 }), firing(2, due, { pair: 7 })];
    expect(hazardsOf(together)).toEqual([[], []]);
    expect(hazardsOf([firing(1, due, { pair: 7 }), firing(2, due + minute, { pair: 7 })])[0]?.length).toBe(1);
  });

  it('quiet hours where its people are: after they end, or before they begin where that would be too late', () => {
    expect(one(at('2026-11-29T23:10'))).toEqual(['quiet-hours → 2026-11-30T08:00']);
    expect(one(at('2026-11-30T07:59'))).toEqual(['quiet-hours → 2026-11-30T08:00']);
    expect(one(at('2026-11-30T08:00'))).toEqual([]);
    expect(one(at('2026-11-30T07:00'), { zone: 'Asia/Tokyo' })).toEqual([]);
    expect(one(at('2026-12-02T02:00'), { startMs: at('2026-12-02T07:30') })).toEqual([
      'quiet-hours → 2026-12-01T21:55',
    ]);
  });

  it('a change of clocks on the way, the close of registration, and what is wrong with the rest of it', () => {
    const spring = at('2027-04-01T20:00');
    const [changed] = hazardsOf([firing(1, at('2027-03-20T20:00'), { startMs: spring })])[0] ?? [];
    expect([changed?.code, changed?.change?.fromMinutes, changed?.change?.toMinutes]).toEqual(['clock-change', 0, 60]);
    const closes = at('2026-12-01T12:00');
    expect(one(closes + 60_000, { closesMs: closes })).toEqual(['registration-closed → 2026-12-01T11:00']);
    expect(one(closes, { closesMs: closes })).toEqual([]);
    const due = at('2026-11-30T10:00');
    expect(
      one(due, { gets: 0, state: 'draft', isTested: false }, { isSenderProven: false, hasPostalAddress: false }),
    ).toEqual(['nobody', 'draft', 'never-tested', 'sender-unproven', 'no-postal-address']);
    expect(one(due, { gets: null })).toEqual([]);
    const [empty] = hazardsOf([firing(1, due, { emptyFields: ['event.joinLink'] })])[0] ?? [];
    expect([empty?.code, empty?.fields]).toEqual(['field-empty', ['event.joinLink']]);
    expect(one(now - 1, { state: 'done', isTested: false })).toEqual([]);
  });
});
