import { differenceBetween } from './difference';
import { letter } from './written';

const said = (before: ReturnType<typeof letter>, after: ReturnType<typeof letter>): string[] =>
  differenceBetween(before, after).map(({ kind, text }) => `${{ same: ' ', added: '+', removed: '-' }[kind]}${text}`);

describe('what differs between two versions of a message', () => {
  it('is told line by line, what went before what came', () => {
    expect(
      said(letter('Stars', 'Dear {{person.firstName|friend}},\n\nCome at eight.\n\n- coat\n- torch\n\nYours'), {
        ...letter('Stars', 'Dear {{person.firstName}},\n\nCome at eight.\n\n- coat\n- red torch\n- tea\n\nYours'),
        preheader: 'Bring tea',
      }),
    ).toEqual([
      ' Stars',
      '-Dear {{person.firstName|friend}},',
      '+Bring tea',
      '+Dear {{person.firstName}},',
      ' Come at eight.',
      ' - coat',
      '-- torch',
      '+- red torch',
      '+- tea',
      ' Yours',
    ]);
  });

  it('is nothing between the same, and everything between nothing and something', () => {
    const one = letter('A', 'b');
    expect(said(one, one)).toEqual([' A', ' b']);
    expect(said(letter(''), one)).toEqual(['+A', '+b']);
    expect(said(one, letter(''))).toEqual(['-A', '-b']);
  });

  it('goes from the one to the other: without what came it is the first, without what went the second (random)', () => {
    let seed = 7;
    const below = (most: number): number => (seed = (seed * 48271) % 2147483647) % most;
    const some = () => letter('S', Array.from({ length: below(12) }, () => `line ${below(4)}`).join('\n\n'));
    for (let round = 0; round < 500; round += 1) {
      const [before, after] = [some(), some()];
      const changes = differenceBetween(before, after);
      const without = (kind: string) => changes.filter((one) => one.kind !== kind).map(({ text }) => text);
      expect(without('added')).toEqual(differenceBetween(before, before).map(({ text }) => text));
      expect(without('removed')).toEqual(differenceBetween(after, after).map(({ text }) => text));
    }
  });
});
