/** Say two things the same? The order in which an object's parts stand says nothing. */
export const isSame = (a: unknown, b: unknown): boolean => write(a) === write(b);

const write = (value: unknown): string =>
  JSON.stringify(value, (_key, part: unknown) =>
    part !== null && typeof part === 'object' && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([one], [other]) => (one < other ? -1 : 1)))
      : part,
  );
