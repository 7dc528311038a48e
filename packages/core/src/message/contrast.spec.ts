import { contrastRatio, readableOn } from './contrast';

describe('Colours that can be read (WCAG 2.2, 1.4.3)', () => {
  it('differ as the formula says', () => {
    // Black on white is 21 by definition; #767676 is the lightest grey that passes on white, #777777 does not (from memory).
    expect(contrastRatio('#000000', '#ffffff')).toBeCloseTo(21, 5);
    expect(contrastRatio('#ffffff', '#ffffff')).toBe(1);
    expect(contrastRatio('#767676', '#ffffff')).toBeGreaterThan(4.5);
    expect(contrastRatio('#777777', '#ffffff')).toBeLessThan(4.5);
    expect(contrastRatio('#123456', '#fbf8f3')).toBe(contrastRatio('#fbf8f3', '#123456'));
  });
  it('stay as they are where they can be read, and are made so where not, on paper and in the dark', () => {
    expect(readableOn('#4a2545', '#fbf8f3')).toBe('#4a2545');
    for (const ground of ['#fbf8f3', '#1a1720', '#ffffff', '#000000'])
      for (const colour of ['#000000', '#ffffff', '#ffcc00', '#4a2545', '#777777', '#00ff00', '#0000ff'])
        expect(contrastRatio(readableOn(colour, ground), ground))
          .withContext(`${colour} on ${ground}`)
          .toBeGreaterThanOrEqual(4.5);
  });
});
