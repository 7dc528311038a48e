import type { Palette } from '@convite/core';

/**
 * The same mail where somebody reads in the dark, for programs that ask for that by `prefers-color-scheme`. Everything stands
 * beside a style of its own, so each rule has to insist.
 */
export const nightStyles = ({ paper, sheet, ink, quiet, line, tint, lead, press, onPress }: Palette): string => {
  const rules: readonly (readonly [selector: string, style: string])[] = [
    ['.cv-paper, .cv-paper > div', `background-color:${paper}`],
    ['.cv-sheet, .cv-sheet > table', `background-color:${sheet}`],
    ['.cv-sheet > table > tbody > tr > td', `border-color:${paper}`],
    ['.cv-board > table > tbody > tr > td', `border-color:${press} ${line} ${line}`],
    ['.cv-stub, .cv-stub > table', `background-color:${press}`],
    ['.cv-words div', `color:${ink}`],
    ['.cv-small div, .cv-quiet, .cv-aside', `color:${quiet}`],
    ['.cv-head div, .cv-lead, .cv-small a', `color:${lead}`],
    ['.cv-on-stub div, .cv-on-stub .cv-quiet, .cv-on-stub a', `color:${onPress}`],
    ['.cv-press', `background:${press}; color:${onPress}`],
    ['.cv-quiet-press', `border-color:${lead}; color:${lead}`],
    ['.cv-apart', `background:${tint}; color:${ink}`],
    ['.cv-line p, .cv-rule, .cv-aside', `border-color:${line}`],
  ];
  const insisting = (style: string): string => style.replace(/;|$/g, ' !important$&');
  return rules.map(([selector, style]) => `${selector} { ${insisting(style)} }`).join('\n');
};
