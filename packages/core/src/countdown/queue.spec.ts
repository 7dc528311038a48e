import { finishMs, noPace, paceOf, paceUnits, paceWindowMs, shareOut, type Pace } from './queue';

describe('the queue', () => {
  const shares = (limit: number, ...classes: [number, number[]][]) =>
    Object.fromEntries(
      shareOut(
        classes.map(([priority, firings]) => ({ priority, firings })),
        limit,
      ),
    );

  it('shares a helping so that the first class takes nearly all, and none starves', () => {
    expect(shares(200)).toEqual({});
    expect(shares(200, [4, [7]])).toEqual({ 7: 200 });
    expect(shares(200, [3, [1, 2, 3]])).toEqual({ 1: 67, 2: 67, 3: 66 });
    // Whatever the order they are named in: an answer before a million cues, and these before digests.
    expect(shares(200, [4, [9]], [1, [5]], [3, [1, 2]])).toEqual({ 5: 175, 1: 13, 9: 12 });
    // More firings than can have a share worth the asking: whose turn it is, is the caller's to say; the limit holds.
    expect(shares(48, [3, [1, 2, 3, 4, 5, 6]])).toEqual({ 1: 12, 2: 12, 3: 12, 4: 12 });
    expect(shares(2, [3, [1, 2, 3]])).toEqual({ 1: 2 });
    expect(shares(1, [1, [1]], [3, [2]])).toEqual({ 1: 1 });
  });

  it('never gives out more than there is, nor nothing while somebody waits', () => {
    for (let limit = 1; limit <= 60; limit += 1)
      for (const sizes of [[1], [3, 1], [5, 2, 9], [1, 1, 1, 1], [40]]) {
        const given = shareOut(
          sizes.map((size, priority) => ({
            priority,
            firings: Array.from({ length: size }, (_, index) => priority * 100 + index),
          })),
          limit,
        );
        const sum = [...given.values()].reduce((one, other) => one + other, 0);
        expect(sum).withContext(`${limit} of ${sizes.join()}`).toBeLessThanOrEqual(limit);
        expect(sum).toBeGreaterThanOrEqual(Math.min(limit, sizes[0] ?? 0));
      }
  });

  it('says when the last message leaves at a pace: days, then hours, then seconds', () => {
    const pace = { perSecond: null, perHour: null, perDay: null };
    const second = 1000;
    const [hour, day] = [3600 * second, 86_400 * second];
    expect(finishMs(1_000_000, 0, pace)).toBeNull();
    expect(finishMs(0, 5, { ...pace, perSecond: 10 })).toBe(5);
    expect(finishMs(10, 0, { ...pace, perSecond: 10 })).toBe(0);
    expect(finishMs(11, 0, { ...pace, perSecond: 10 })).toBe(second);
    expect(finishMs(1000, 0, { ...pace, perSecond: 10 })).toBe(99 * second);
    expect(finishMs(1000, 0, { perSecond: 10, perHour: 400, perDay: null })).toBe(2 * hour + 19 * second);
    expect(finishMs(1000, 0, { perSecond: 10, perHour: 200, perDay: 900 })).toBe(day + 9 * second);
    expect(finishMs(1801, 7, { perSecond: null, perHour: null, perDay: 900 })).toBe(2 * day + 7);
  });

  /** A sender that lets messages out as they may go: each bound counts from the first message of its window. */
  function simulated(messages: number, pace: Pace): number {
    const windows = paceUnits.flatMap((unit) => {
      const bound = paceOf(pace, unit);
      return bound === null ? [] : [{ bound, lengthMs: paceWindowMs[unit], left: bound, endsMs: -Infinity }];
    });
    let nowMs = 0;
    for (let left = messages; ;) {
      for (const one of windows)
        if (nowMs >= one.endsMs) Object.assign(one, { left: one.bound, endsMs: nowMs + one.lengthMs });
      const may = Math.min(left, ...windows.map((one) => one.left));
      left -= may;
      for (const one of windows) one.left -= may;
      if (left === 0) return nowMs;
      nowMs = Math.min(...windows.filter((one) => one.left === 0).map((one) => one.endsMs));
    }
  }

  it('says of a million at fourteen a second, and of other paces, when a simulated sender is done, within two in a hundred', () => {
    const rows: [number, Pace][] = [
      [1_000_000, { ...noPace, perSecond: 14 }],
      [1_000_000, { ...noPace, perSecond: 14, perHour: 40_000 }],
      [1_000_000, { perSecond: 500, perHour: 90_000, perDay: 400_000 }],
      [123_456, { ...noPace, perHour: 5_000, perDay: 50_000 }],
      [10_000, { ...noPace, perDay: 3_000 }],
    ];
    for (const [messages, pace] of rows) {
      const [forecast, done] = [finishMs(messages, 0, pace) ?? NaN, simulated(messages, pace)];
      expect(Math.abs(forecast - done) / done)
        .withContext(`${messages} at ${JSON.stringify(pace)}: forecast ${forecast}, done ${done}`)
        .toBeLessThan(0.02);
    }
    // 71,428 whole seconds pass before the last twelve leave: 19 hours 50 minutes 28 seconds.
    expect(simulated(1_000_000, { ...noPace, perSecond: 14 })).toBe(71_428_000);
  });
});
