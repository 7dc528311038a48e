import { contrastRatio, readableOn } from './contrast';

/** How a mail is laid out. */
export const designs = ['letter', 'programme', 'ticket', 'bulletin', 'notice', 'bare'] as const;
export type Design = (typeof designs)[number];
/** Whose letters it is set in. */
export const faces = ['bookish', 'plain', 'friendly'] as const;
export type Face = (typeof faces)[number];

/** Families that mail programs have, the first that is there. From memory. */
export const faceFamilies: Readonly<Record<Face, string>> = {
  bookish: "Georgia, 'Times New Roman', serif",
  plain: "'Helvetica Neue', Helvetica, Arial, sans-serif",
  friendly: "'Trebuchet MS', 'Segoe UI', Verdana, sans-serif",
};

/** The colours of a mail, `#rrggbb`. Whatever is read stands out from its ground by 4.5 (WCAG 2.2, 1.4.3). */
export interface Palette {
  /** Around the sheet, and the sheet that is written on. */
  readonly paper: string;
  readonly sheet: string;
  readonly ink: string;
  readonly quiet: string;
  readonly line: string;
  /** Behind what stands apart. */
  readonly tint: string;
  /** Of headings and links. */
  readonly lead: string;
  /** Of what is pressed, and what is written on it. */
  readonly press: string;
  readonly onPress: string;
}

const day = {
  ...{ paper: '#FBF8F3', sheet: '#FFFDF9', ink: '#1D2433', quiet: '#5A5F6B', line: '#E3DCD0', tint: '#F4EEE4' },
};
const night = {
  ...{ paper: '#17141B', sheet: '#201C25', ink: '#EFE9DF', quiet: '#B7B0BC', line: '#3D3645', tint: '#2A2530' },
};

/** The colours of the house on paper, and as they are by night. @param colour the house's, `#rrggbb` */
export function paletteOf(colour: string): { readonly day: Palette; readonly night: Palette } {
  const onPress = contrastRatio(colour, day.paper) >= contrastRatio(colour, day.ink) ? day.paper : day.ink;
  const lead = readableOn(colour, night.tint);
  return {
    day: { ...day, lead: readableOn(colour, day.tint), press: readableOn(colour, onPress), onPress },
    night: { ...night, lead, press: lead, onPress: night.paper },
  };
}

/** Of a house that chose none. */
export const plainColour = '#4a2545';
export const plainPalette = paletteOf(plainColour).day;
