import { blankFacts } from './event';
import { checkEntry, sayEntry, sayMinutes, type Entry } from './entry';

const entry = (over: Partial<Entry> = {}): Entry => ({ ...blankFacts.entry, ...over });

describe('the options of an entry', () => {
  for (const [over, code, path] of [
    [{ text: 'x'.repeat(10_001) }, 'too-long', 'entry.text'],
    [{ alarmsMinutes: [-5] }, 'bad-time', 'entry.alarmsMinutes'],
    [{ alarmsMinutes: [1.5] }, 'bad-time', 'entry.alarmsMinutes'],
    [{ alarmsMinutes: [1, 2, 3, 4, 5, 6] }, 'bad-time', 'entry.alarmsMinutes'],
    [{ colour: '#ff0000' }, 'bad-colour', 'entry.colour'],
    [{ imageUrl: 'dome.png' }, 'bad-link', 'entry.imageUrl'],
    [{ position: { latitude: 91, longitude: 0 } }, 'bad-position', 'entry.position'],
    [{ position: { latitude: 40, longitude: NaN } }, 'bad-position', 'entry.position'],
  ] as const)
    it(`names ${path} when it is ${JSON.stringify(over).slice(0, 50)}`, () =>
      expect(checkEntry(entry(over)).map((problem) => [problem.code, problem.path])).toEqual([[code, path]]));

  it('takes the edges: an alarm at the start, five of them, the poles, colours by name (RFC 7986 §5.9)', () => {
    const alarmsMinutes = [0, 30, 60, 1440, 366 * 1440];
    const position = { latitude: -90, longitude: 180 };
    expect(checkEntry(entry({ alarmsMinutes, position, colour: 'teal' }))).toEqual([]);
  });

  it('says every option that can differ, so that a change of it shows', () => {
    const one = sayEntry(entry());
    const other = sayEntry(
      entry({
        asksReply: false,
        alarmsMinutes: [0, 90, 120, 2880],
        isPrivate: true,
        isBusy: false,
        showsGuests: true,
        isStyled: true,
        categories: ['moon'],
        colour: 'teal',
        imageUrl: 'https://x.example/a.png',
        position: { latitude: 1, longitude: 2 },
        text: 'Own words',
      }),
    );
    expect(other.filter((line) => one.includes(line))).toEqual([]);
    expect(other).toContain('reminds at the start, 90 minutes and 2 hours and 2 days before');
    expect(other.length).toBe(11);
  });

  it('says minutes in the largest unit that holds them whole', () =>
    expect([1, 59, 60, 90, 1440, 1500, 10_080].map(sayMinutes)).toEqual([
      '1 minute',
      '59 minutes',
      '1 hour',
      '90 minutes',
      '1 day',
      '25 hours',
      '7 days',
    ]));
});
