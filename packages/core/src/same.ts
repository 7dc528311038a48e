/** Do two things say the same? The order of an object's parts says nothing, and a part that is undefined is none. */
export function isSame(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [left, right] = [partsOf(a), partsOf(b)];
  return left.size === right.size && [...left].every(([key, value]) => right.has(key) && isSame(value, right.get(key)));
}

const partsOf = (value: object): Map<string, unknown> =>
  new Map(Object.entries(value).filter(([, part]) => part !== undefined));
