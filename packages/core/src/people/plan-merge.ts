/** Somebody who may be put together with another. */
export interface MergedPerson {
  /** Empty where there is none; so are the other facts. */
  readonly email: string;
  readonly name: string;
  readonly mobile: string;
  readonly phone: string;
  readonly zone: string;
  /** How the zone is known, where it is a guess. */
  readonly zoneFrom: string;
  readonly language: string;
  readonly lists: readonly number[];
  readonly topics: readonly string[];
  /** Further fields that have something in them. */
  readonly fields: readonly number[];
  readonly emailConsent: boolean;
  readonly textConsent: boolean;
  readonly optedOut: boolean;
  /** An instant in ISO 8601; null for no pause. */
  readonly pausedUntil: string | null;
  readonly mostPerWeek: number | null;
}

export const mergedFacts = ['name', 'mobile', 'phone', 'zone', 'zoneFrom', 'language'] as const;
export type MergedFact = (typeof mergedFacts)[number];

/** What one person takes over from another who was found to be them. */
export interface MergePlan {
  /** Where the one had nothing. */
  readonly facts: Readonly<Partial<Record<MergedFact, string>>>;
  /** The other's address, where the one has none; else empty. */
  readonly email: string;
  readonly joins: readonly number[];
  readonly topics: readonly string[];
  readonly fields: readonly number[];
  /** A no of either is a no of both. */
  readonly optsOut: boolean;
  readonly agreesToEmail: boolean;
  /** Consent to texts is of the number: with it goes what was said of it, where that is not what counts already. */
  readonly textConsent: boolean | null;
  /** The longer of two pauses, and the stricter of two wishes. */
  readonly pausedUntil: string | null;
  readonly mostPerWeek: number | null;
}

/** What somebody takes over. Nothing that they have themselves is changed by it, but for what both asked us to do less of. */
export function planMerge(kept: MergedPerson, other: MergedPerson): MergePlan {
  const filled = mergedFacts.filter((fact) => fact !== 'zoneFrom' && kept[fact] === '' && other[fact] !== '');
  const facts = Object.fromEntries(filled.map((fact) => [fact, other[fact]]));
  const without = <T>(some: readonly T[], known: readonly T[]): T[] => some.filter((one) => !known.includes(one));
  const pauses = [kept.pausedUntil, other.pausedUntil].flatMap((at) => at ?? []);
  const wishes = [kept.mostPerWeek, other.mostPerWeek].flatMap((most) => most ?? []);
  return {
    facts: filled.includes('zone') && other.zoneFrom ? { ...facts, zoneFrom: other.zoneFrom } : facts,
    email: kept.email === '' ? other.email : '',
    joins: without(other.lists, kept.lists),
    // Somebody who named no topic hears of everything, and goes on doing so.
    topics: kept.topics.length ? without(other.topics, kept.topics) : [],
    fields: without(other.fields, kept.fields),
    optsOut: other.optedOut && !kept.optedOut,
    agreesToEmail: !kept.optedOut && !other.optedOut && !kept.emailConsent && other.emailConsent,
    textConsent: filled.includes('mobile') && other.textConsent !== kept.textConsent ? other.textConsent : null,
    pausedUntil: pauses.sort().at(-1) ?? null,
    mostPerWeek: wishes.length ? Math.min(...wishes) : null,
  };
}
