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
 * The colour, or the same hue as little lighter or darker as makes it readable on a ground.
 * @param colour `#rrggbb`, as is the ground
 */
export function readableOn(colour: string, ground: string): string {
  const end = luminance(ground) < 0.18 ? 1 : 0;
  const { hue, saturation, lightness } = hslOf(colour);
  for (let step = 0; step <= steps; step += 1) {
    const shifted =
      step === 0 ? colour : colourOf({ hue, saturation, lightness: lightness + ((end - lightness) * step) / steps });
    if (contrastRatio(shifted, ground) >= readableRatio) return shifted;
  }
  return colourOf({ hue, saturation, lightness: end });
}
const steps = 50;

/** Hue 0 to 360, the others 0 to 1 (CSS Color 4, §7). */
interface Hsl {
  readonly hue: number;
  readonly saturation: number;
  readonly lightness: number;
}
const shares = (colour: string): Channels => {
  const [red, green, blue] = channelsOf(colour);
  return [red / 255, green / 255, blue / 255];
};
function hslOf(colour: string): Hsl {
  const [red, green, blue] = shares(colour);
  const [most, least] = [Math.max(red, green, blue), Math.min(red, green, blue)];
  const [lightness, spread] = [(most + least) / 2, most - least];
  if (spread === 0) return { hue: 0, saturation: 0, lightness };
  const saturation = spread / (1 - Math.abs(2 * lightness - 1));
  const turn =
    most === red
      ? ((green - blue) / spread + 6) % 6
      : most === green
        ? (blue - red) / spread + 2
        : (red - green) / spread + 4;
  return { hue: turn * 60, saturation, lightness };
}
function colourOf({ hue, saturation, lightness }: Hsl): string {
  const reach = saturation * Math.min(lightness, 1 - lightness);
  const channel = (n: number): number => {
    const k = (n + hue / 30) % 12;
    return 255 * (lightness - reach * Math.max(-1, Math.min(k - 3, 9 - k, 1)));
  };
  return hexOf([channel(0), channel(8), channel(4)]);
}
