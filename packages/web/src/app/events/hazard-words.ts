const words: Readonly<Record<string, string>> = {
  past: 'its moment is past',
  'under-ten-minutes': 'less than 10 minutes away',
  'after-start': 'after the start',
  'not-done-by-start': 'at the sender’s pace the last leaves after the start',
  'close-to-another': 'within 10 minutes of another cue',
  'quiet-hours': 'in quiet hours there',
  'clock-change': 'clocks change in between',
};

export const sayHazard = (hazard: string): string => words[hazard] ?? hazard;
