import type { Palette } from './look';

/**
 * How each part of a mail looks: its class, by which it is repainted at night, and its style, since mail programs know no
 * style sheets for certain.
 */
export function stylesOf({ ink, quiet, line, tint, lead, press, onPress }: Palette) {
  const of = (name: string, style: string): string => ` class="cv-${name}" style="${style}"`;
  const button = `display:inline-block;vertical-align:top;margin:0 6px 8px 0;padding:12px 22px;border-radius:4px;background:${press};color:${onPress};text-decoration:none`;
  return {
    paragraph: ' style="margin:0 0 16px"',
    heading: of('lead', `font-size:17px;color:${lead};margin:20px 0 6px`),
    link: of('lead', `color:${lead};font-weight:bold`),
    quote: of('aside', `margin:0 0 16px;padding:2px 0 2px 14px;border-left:3px solid ${line};color:${quiet}`),
    rule: of('rule', `border:0;border-top:1px solid ${line};margin:22px 0`),
    list: ' style="margin:0 0 16px;padding-left:22px"',
    press: of('press', button),
    pressBelow: of('press', `${button};margin-top:6px`),
    /** Beside the one that is meant first. */
    quietPress: of(
      'quiet-press',
      `display:inline-block;vertical-align:top;margin:0 6px 8px 0;padding:11px 18px;border-radius:4px;border:1px solid ${lead};color:${lead};text-decoration:none`,
    ),
    quiet: of('quiet', `color:${quiet}`),
    picture: of(
      'quiet',
      `display:block;width:100%;height:auto;border:0;border-radius:4px;font-size:15px;color:${quiet}`,
    ),
    apart: of('apart', `margin:0 0 16px;width:100%;background:${tint};color:${ink};border-radius:4px`),
    table: ' style="margin:0 0 16px;width:100%;table-layout:auto;border-collapse:collapse"',
    cell: of(
      'rule',
      `padding:6px 10px 6px 0;word-break:normal;border-bottom:1px solid ${line};text-align:left;vertical-align:top`,
    ),
    headCell: of(
      'lead cv-rule',
      `padding:6px 10px 6px 0;word-break:normal;border-bottom:2px solid ${line};text-align:left;vertical-align:bottom;color:${lead}`,
    ),
    /** Side by side where there is room, else one below the other. */
    column: ' style="display:inline-block;width:100%;max-width:266px;vertical-align:top;margin-right:8px"',
  } as const;
}
export type Styles = ReturnType<typeof stylesOf>;
