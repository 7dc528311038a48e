const systems: readonly (readonly [RegExp, string])[] = [
  [/iPhone|iPad/, 'a tablet or phone'],
  [/Android/, 'a phone or tablet'],
  [/Windows/, 'Windows'],
  [/Mac OS X|Macintosh/, 'a Mac'],
  [/Linux|X11/, 'Linux'],
];
const browsers: readonly (readonly [RegExp, string])[] = [
  [/Edg\//, 'Edge'],
  [/Firefox\//, 'Firefox'],
  [/Chrome\/|Chromium\//, 'Chrome'],
  [/Safari\//, 'Safari'],
];

/** What a User-Agent says, as people would; what says nothing known stands as it is, cut. @example 'Firefox on Linux' */
export function sayAgent(agent: string): string {
  const find = (known: typeof systems): string => known.find(([pattern]) => pattern.test(agent))?.[1] ?? '';
  const [browser, system] = [find(browsers), find(systems)];
  if (browser && system) return `${browser} on ${system}`;
  return browser || system || agent.slice(0, 60) || 'a program that does not say its name';
}
