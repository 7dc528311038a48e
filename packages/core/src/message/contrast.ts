/** Red, green and blue of `#rrggbb`, 0 to 255. */
type Channels = readonly [number, number, number];
const channelsOf = (colour: string): Channels => [
  parseInt(colour.slice(1, 3), 16),
  parseInt(colour.slice(3, 5), 16),
  parseInt(colour.slice(5, 7), 16),
];
const hexOf = (channels: Channels): string =>
  `#${channels.map((channel) => Math.round(channel).toString(16).padStart(2, '0')).join('')}`;

/** Relative luminance, 0 to 1 (WCAG 2.2, definitions). */
function luminance(colour: string): number {
  const [red, green, blue] = channelsOf(colour).map((channel) => {
    const share = channel / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

/** How much two colours differ in lightness, 1 to 21 (WCAG 2.2, definitions). Text wants 4.5 (1.4.3). */
export function contrastRatio(one: string, other: string): number {
  const [dark, light] = [luminance(one), luminance(other)].sort((a, b) => a - b) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

export const readableRatio = 4.5;

/**
 * The colour, or as little of white or black mixed into it as makes it readable on a ground.
 * @param colour `#rrggbb`, as is the ground
 */
export function readableOn(colour: string, ground: string): string {
  const end: Channels = luminance(ground) < 0.18 ? [255, 255, 255] : [0, 0, 0];
  const from = channelsOf(colour);
  for (let step = 0; step <= 50; step += 1) {
    const share = step / 50;
    const [red, green, blue] = [0, 1, 2].map((index) => (from[index] ?? 0) * (1 - share) + (end[index] ?? 0) * share);
    const mixed = hexOf([red ?? 0, green ?? 0, blue ?? 0]);
    if (contrastRatio(mixed, ground) >= readableRatio) return mixed;
  }
  return hexOf(end);
}
