import { pressureWindowMs } from '../audience/pressure';
import { rehearseAll, type RehearsedCue } from './rehearse-all';

const dayMs = 86_400_000;

/** Person by person, message by message. */
function naive(cues: readonly RehearsedCue[], perWeek: number, movedMs: ReadonlyMap<number, number>) {
  const got = new Map<number, number[]>();
  for (const { id, dueMs, people } of cues)
    for (const person of people)
      for (const atMs of dueMs) got.set(person, [...(got.get(person) ?? []), atMs + (movedMs.get(id) ?? 0)]);
  const within = [...got.values()].map((times) =>
    Math.max(0, ...times.map((from) => times.filter((atMs) => atMs >= from && atMs - from < pressureWindowMs).length)),
  );
  const most = Math.max(0, ...within);
  return {
    reached: within.filter((count) => count > 0).length,
    messages: [...got.values()].reduce((sum, { length }) => sum + length, 0),
    most,
    ofMost: most ? within.filter((count) => count === most).length : 0,
    over: within.filter((count) => count > perWeek).length,
  };
}

/** Numbers that look random and are the same each time. */
function* numbers(seed: number): Generator<number, never> {
  for (let state = seed; ;) {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    yield state / 2_147_483_648;
  }
}

describe('a countdown rehearsed for everybody', () => {
  it('says of each what a naive count says, on 200 random countdowns', () => {
    const random = numbers(20261128);
    const next = (below: number): number => Math.floor(random.next().value * below);
    for (let round = 0; round < 200; round += 1) {
      const cues = Array.from({ length: next(6) }, (_, id): RehearsedCue => ({
        id,
        dueMs: Array.from({ length: next(5) }, () => next(30) * (dayMs / 2)),
        people: Array.from({ length: 12 }, (__, person) => person).filter(() => next(2) === 1),
        reachesNew: false,
      }));
      const movedMs = new Map(cues.map(({ id }) => [id, (next(5) - 2) * dayMs]));
      const { reached, messages, most, ofMost, over } = rehearseAll(cues, 2, { movedMs, moreRegister: 0 });
      expect({ reached, messages, most, ofMost, over }).toEqual(naive(cues, 2, movedMs));
    }
  });

  it('counts who would register beside the others, where the cue is for them, and says when all goes', () => {
    const cues: RehearsedCue[] = [
      { id: 1, dueMs: [0], people: [1, 2], reachesNew: true },
      { id: 2, dueMs: [dayMs], people: [2], reachesNew: false },
    ];
    const found = rehearseAll(cues, null, { movedMs: new Map([[1, 2 * dayMs]]), moreRegister: 200 });
    expect([...found.people]).toEqual([
      [1, 202],
      [2, 1],
    ]);
    expect([found.reached, found.messages, found.most, found.ofMost, found.over]).toEqual([202, 203, 2, 1, 0]);
    expect(found.course).toEqual([
      { atMs: dayMs, cueId: 2, count: 1 },
      { atMs: 2 * dayMs, cueId: 1, count: 202 },
    ]);
    expect(rehearseAll([], 3).most).toBe(0);
  });
});
