/** How a text message travels and what it costs. */
export interface TextMeasure {
  readonly encoding: 'GSM 7-bit' | 'UCS-2';
  /** Septets or UTF-16 units used. */
  readonly units: number;
  readonly parts: number;
  /** Units that fit into one part of a message of this length. */
  readonly unitsPerPart: number;
  /** Characters that force UCS-2, in order, each once. */
  readonly costly: readonly string[];
}

// 3GPP TS 23.038 §6.2.1, the default alphabet (without its escape), and §6.2.1.1, the extension table.
const basic = new Set(
  '@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !"#¤%&\'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà',
);
const extended = new Set('\f^{}\\[~]|€');

/**
 * Measures a text message: its encoding (3GPP TS 23.038) and its parts (3GPP TS 23.040 §9.2.3.24: 160 or 70 units alone,
 * 153 or 67 each when joined). A character of two units is never split, so a part may stay one unit short.
 */
export function measureText(text: string): TextMeasure {
  const characters = [...text];
  const costly = [...new Set(characters.filter((character) => !basic.has(character) && !extended.has(character)))];
  const encoding = costly.length ? 'UCS-2' : 'GSM 7-bit';
  const [alone, joined] = costly.length ? [70, 67] : [160, 153];
  const widths = characters.map((character) => (costly.length ? character.length : extended.has(character) ? 2 : 1));
  const units = widths.reduce((sum, width) => sum + width, 0);
  if (units <= alone) return { encoding, units, parts: units === 0 ? 0 : 1, unitsPerPart: alone, costly };
  let parts = 1;
  let used = 0;
  for (const width of widths) {
    if (used + width > joined) {
      parts += 1;
      used = 0;
    }
    used += width;
  }
  return { encoding, units, parts, unitsPerPart: joined, costly };
}
