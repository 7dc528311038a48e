/**
 * Something wrong in what a person typed, pasted or sent, said as data: a stable code, where it stands, and its facts.
 * The sentence a person reads is made elsewhere (contract/sentences.ts), so that core never words anything twice.
 */
export interface Problem {
  readonly code: ProblemCode;
  /** Where: a field's name (`span.end`), or `line 12`. Empty when it concerns the whole. */
  readonly path: string;
  readonly facts?: Readonly<Record<string, string | number>>;
}

export type ProblemCode =
  | 'required'
  | 'unreadable'
  | 'too-long'
  | 'unknown-zone'
  | 'bad-date'
  | 'end-before-start'
  | 'bad-link'
  | 'bad-address'
  | 'placeholder-address'
  | 'duplicate-address'
  | 'was-erased'
  | 'field-of-event'
  | 'unknown-list'
  | 'audience-gone'
  | 'act-gone'
  | 'unknown-topic'
  | 'unknown-person'
  | 'no-such-field'
  | 'no-words'
  | 'bad-press'
  | 'no-press-words'
  | 'in-the-future'
  | 'said-no'
  | 'bad-value'
  | 'bad-mobile'
  | 'no-way'
  | 'number-not-taken'
  | 'bad-time'
  | 'bad-number'
  | 'unknown-field'
  | 'field-not-closed'
  | 'bad-pattern'
  | 'unknown-variable'
  | 'no-start-in-pattern'
  | 'bad-rule'
  | 'start-not-in-rule'
  | 'start-skipped'
  | 'rule-too-often'
  | 'not-an-occurrence'
  | 'bad-colour'
  | 'bad-position'
  | 'password-short'
  | 'password-common'
  | 'password-own'
  | 'too-soon'
  | 'no-audience'
  | 'no-place-in-pattern'
  | 'hard-to-read'
  | 'needs-two'
  | 'no-registration'
  | 'no-date-field'
  | 'calendar-too-big'
  | 'calendar-too-deep'
  | 'calendar-too-many'
  | 'calendar-too-hard'
  | 'calendar-not-utf8'
  | 'calendar-bad-line'
  | 'calendar-not-closed'
  | 'calendar-missing'
  | 'calendar-bad-value'
  | 'event-left-out'
  | 'event-older'
  | 'calendar-not-taken'
  | 'calendar-more-problems'
  | 'calendar-cut';

/** Either what was asked for, or at least one problem. Bad data never throws; bad use of a function does. */
export type Read<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problems: Problem[] };

export const good = <T>(value: T): Read<T> => ({ ok: true, value });
export const bad = (...problems: Problem[]): Read<never> => ({ ok: false, problems });
