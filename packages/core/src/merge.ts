import { isSame } from './same';

/** Fields that only make sense together, by the name of the part that they are. */
export type Parts<T, P extends string> = Readonly<Record<P, readonly (keyof T)[]>>;

/** What two people made of one thing, put together. */
export interface Merged<T, P extends string> {
  readonly merged: T;
  /** Parts that both changed, each in their own way; mine stands. */
  readonly clashes: readonly P[];
}

/** The names of the parts, in their order. */
export const partNames = <T, P extends string>(parts: Parts<T, P>): P[] =>
  Object.keys(parts).filter((name): name is P => name in parts);

/** Does a part say something else in one than in the other? */
export const isPartChanged = <T>(fields: readonly (keyof T)[], a: T, b: T): boolean =>
  fields.some((field) => !isSame(a[field], b[field]));

/**
 * Puts my changes on top of what somebody else saved meanwhile, part by part: what I did not touch is theirs.
 * @param base what both began with
 */
export function mergeParts<T extends object, P extends string>(
  parts: Parts<T, P>,
  { base, mine, theirs }: { readonly base: T; readonly mine: T; readonly theirs: T },
): Merged<T, P> {
  const merged: T = { ...theirs };
  const clashes: P[] = [];
  for (const name of partNames(parts)) {
    const fields = parts[name];
    if (!isPartChanged(fields, base, mine)) continue;
    for (const field of fields)
      if (field in mine) merged[field] = mine[field];
      else Reflect.deleteProperty(merged, field);
    if (isPartChanged(fields, base, theirs) && isPartChanged(fields, mine, theirs)) clashes.push(name);
  }
  return { merged, clashes };
}
