import { askTogether } from './ask-together';

describe('questions asked together', () => {
  it('are one round trip, and whoever comes while it runs is answered by one that began later', async () => {
    const rounds: string[][] = [];
    let state = 'old';
    let answer = () => {};
    const ask = askTogether(async (keys) => {
      rounds.push([...keys]);
      const seen = state;
      await new Promise<void>((resolve) => (answer = resolve));
      return new Map(keys.filter((key) => key !== 'unknown').map((key) => [key, `${key} ${seen}`]));
    }, 0);
    const first = Promise.all([ask('a'), ask('b'), ask('a'), ask('unknown')]);
    await Promise.resolve();
    await Promise.resolve();
    state = 'new';
    const later = ask('a');
    answer();
    expect(await first).toEqual(['a old', 'b old', 'a old', null]);
    await Promise.resolve();
    answer();
    expect(await later).toBe('a new');
    expect(rounds).toEqual([['a', 'b', 'unknown'], ['a']]);
  });

  it('fails for those who asked, and for nobody after them', async () => {
    let isDown = true;
    const ask = askTogether((keys) =>
      isDown ? Promise.reject(new Error('away')) : Promise.resolve(new Map(keys.map((key) => [key, 1]))),
    );
    await expectAsync(ask('a')).toBeRejectedWithError('away');
    isDown = false;
    expect(await ask('a')).toBe(1);
  });
});
