import { contrastRatio, readableRatio } from './contrast';
import { paletteOf } from './look';

describe('the colours of a mail', () => {
  // Every sixth step of each channel: black, white, the mid greys where neither light nor dark words are read easily.
  const steps = ['00', '33', '66', '77', '99', 'cc', 'ff'];
  const colours = steps.flatMap((red) => steps.flatMap((green) => steps.map((blue) => `#${red}${green}${blue}`)));

  it('are read whatever the house’s colour is, by day and by night (WCAG 2.2, 1.4.3)', () => {
    for (const colour of colours)
      for (const palette of Object.values(paletteOf(colour))) {
        const { paper, sheet, tint, ink, quiet, lead, press, onPress } = palette;
        const pairs = [
          ...[paper, sheet, tint].flatMap((ground) => [ink, quiet, lead].map((word) => [word, ground] as const)),
          [onPress, press] as const,
        ];
        for (const [word, ground] of pairs)
          if (contrastRatio(word, ground) < readableRatio) fail(`${word} on ${ground}, of ${colour}`);
      }
    expect(colours.length).toBe(343);
  });

  it('are the house’s own where they can be read', () => {
    expect(paletteOf('#4a2545').day).toEqual(
      jasmine.objectContaining({ lead: '#4a2545', press: '#4a2545', onPress: '#FBF8F3' }),
    );
    expect(paletteOf('#ffe08a').day.onPress).toBe('#1D2433');
  });
});
