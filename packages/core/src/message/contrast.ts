/** Red, green and blue of `#rrggbb`, 0 to 255. */
type Channels = readonly [number, number, number];
const channelsOf = (colour: string): Channels => [
  parseInt(colour.slice(1, 3), 16),
  parseInt(colour.slice(3, 5), 16),
  parseInt(colour.slice(5, 7), 16),
];
const hexOf = (channels: readonly number[]): string =>
  `#${channels.map((channel) => Math.round(channel).toString(16).padStart(2, '0')).join('')}`;

/** Relative luminance, 0 to 1 (WCAG 2.2, definitions). */
function luminance(colour: string): number {
  const linear = (channel: number): number => {
    const share = channel / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  };
  const [red, green, blue] = channelsOf(colour);
  return 0.2126 * linear(red) + 0.7152 * linear(green) + 0.0722 * linear(blue);
}

/** How much two colours differ in lightness, 1 to 21 (WCAG 2.2, definitions). Text wants 4.5 (1.4.3). */
export function contrastRatio(one: string, other: string): number {
  const [a, b] = [luminance(one), luminance(other)];
  return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
}

export const readableRatio = 4.5;

/**
 * The colour, or as little of white or black mixed into it as makes it readable on a ground.
 * @param colour `#rrggbb`, as is the ground
 */
export function readableOn(colour: string, ground: string): string {
  const end = luminance(ground) < 0.18 ? 255 : 0;
  const from = channelsOf(colour);
  for (let step = 0; step <= 50; step += 1) {
    const share = step / 50;
    const mixed = hexOf(from.map((channel) => channel * (1 - share) + end * share));
    if (contrastRatio(mixed, ground) >= readableRatio) return mixed;
  }
  return hexOf([end, end, end]);
}
