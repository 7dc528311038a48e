import { reasonOf, rules, type Lane, type Limit, type Quiet, type Reason, type Tree, type Who } from '@convite/core';
import { compileCondition, negated, type Compiled } from './condition-sql';
import { inList, sql, type Sql } from './database';
import { isHere } from './is-here';

/** How many are on a list, where that is known. */
export type SizeOf = (list: number) => number | undefined;
const unknownSize: SizeOf = () => undefined;

/**
 * Some people: where their rows `s` come from, and a condition on them. It begins with the smallest set there is and joins
 * `subscriber` to it by key; `s.id in (… union …)` would look at every subscriber there is.
 */
export interface People {
  readonly from: Sql;
  readonly where: Sql;
}

/** The people of a subselect of `subscriber_id`, each once. */
export const peopleOf = (ids: Sql, where: Sql = sql('true')): People => ({
  from: sql(`(${ids.text}) as c join subscriber s on s.id = c.subscriber_id`, ...ids.bindings),
  where,
});

/** Those who get the message: the set-wise twin of core's `judge`. */
export function getsSql(who: Who, channel: Lane, sizeOf = unknownSize): People {
  return narrowed(compile(who.in, sizeOf), who, channel);
}

/** The same, one part of those who are in after the other, for whoever looks for one person and no more. */
export function getsByPart(who: Who, channel: Lane): People[] {
  const parts = who.in.kind === 'any' ? who.in.of : [who.in];
  return parts.map((part) => narrowed(compile(part, unknownSize), who, channel));
}

function narrowed(chosen: Chosen, who: Who, channel: Lane): People {
  const reason = caseSql(who, channel, (rule) => rule !== 'not-chosen');
  const { text, bindings } = chosen.rest;
  return {
    ...peopleOf(chosen.ids),
    where: sql(`${text} and (${reason.text}) is null`, ...bindings, ...reason.bindings),
  };
}

/** The first reason against each person `s`, in core's own order; null for who gets it. */
export const reasonSql = (who: Who, channel: Lane): Sql => caseSql(who, channel, () => true);

/** Those who are in, as a subselect of `subscriber_id`, and what is still to be asked of them. */
interface Chosen {
  readonly ids: Sql;
  readonly rest: Sql;
}
export const candidatesOf = (who: Who): People => {
  const { ids, rest } = compile(who.in, unknownSize);
  return peopleOf(ids, rest);
};

/** Everybody of whom a tree is so, and how many there may be to look at; Infinity for everybody. */
export function compilePeople(tree: Tree, sizeOf = unknownSize): People & { readonly size: number } {
  const { ids, rest } = compile(tree, sizeOf);
  const people = peopleOf(ids, sql(`${isHere} and ${rest.text}`, ...rest.bindings));
  return { ...people, size: find(tree, sizeOf).size };
}

/** Everybody worth a reason: those who are in, and the others whose subselect is given. */
export function populationSql(who: Who, others: Sql): Sql {
  const { from, where } = candidatesOf(who);
  return sql(
    `select s.id as subscriber_id from ${from.text} where ${where.text} union ${others.text}`,
    ...from.bindings,
    ...where.bindings,
    ...others.bindings,
  );
}

function caseSql(who: Who, channel: Lane, isAsked: (reason: Reason) => boolean): Sql {
  const branches = rules
    .filter((rule) => rule.channels.includes(channel) && isAsked(rule.reason))
    .flatMap(({ reason }) => {
      const condition = against(who, channel, reason);
      return condition === null ? [] : [sql(`when ${condition.text} then '${reason}'`, ...condition.bindings)];
    });
  return sql(
    `case ${branches.map(({ text }) => text).join(' ')} else null end`,
    ...branches.flatMap(({ bindings }) => bindings),
  );
}

/** What makes a reason apply; null when it cannot. */
function against(who: Who, channel: Lane, reason: Reason): Sql | null {
  const ofPerson: Partial<Record<Reason, Sql>> = {
    'not-chosen': negated(testOf(who.in)),
    'opted-out': sql('s.opted_out_at is not null'),
    paused: unlessGuest('s.paused_until is not null', who.about),
    'no-consent': unlessGuest('not s.email_consent', who.about),
    'no-email': sql('s.email is null'),
    bounced: sql('s.bounced_at is not null'),
    'no-mobile': sql("s.mobile = ''"),
    'no-text-consent': sql('not s.text_consent'),
  };
  const own = ofPerson[reason];
  if (own) return own;
  if (reason === 'same-person') return samePerson(who, channel);
  if (reason === 'no-join-link')
    return who.joins === undefined ? null : negated(testOf({ kind: 'guest', event: who.joins }));
  if (reason === 'over-limit') return who.limit ? overLimit(who.limit) : null;
  if (reason === 'quiet-hours') return who.quiet?.leftOut.length ? tooQuiet(who.quiet) : null;
  const out = who.out.filter((tree) => reasonOf(tree) === reason).map(testOf);
  return out.length ? joined(out, 'or') : null;
}

/** Holds them back, unless they are guests of the event that it is about, whom an invitation has reached, or wait for a place at it. */
const unlessGuest = (condition: string, about: number | null): Sql =>
  about === null
    ? sql(condition)
    : sql(
        `(${condition} and not exists (select 1 from invitee g where g.event_id = ? and g.subscriber_id = s.id and g.invited_at is not null)
           and not exists (select 1 from registration g where g.event_id = ? and g.subscriber_id = s.id and g.state = 'waitlisted'))`,
        about,
        about,
      );

/** Was found to be another; or, of a text, shares the number of somebody before them who gets it. */
function samePerson(who: Who, channel: Lane): Sql {
  if (channel !== 'text') return sql('s.same_as_id is not null');
  // Inside, `s` is that other one. Who is passed over for a third does not count: that third comes before both.
  const other = caseSql(who, channel, (reason) => reason !== 'same-person');
  return sql(
    `(s.same_as_id is not null or (s.mobile <> '' and exists (
       select 1 from subscriber t where t.mobile = s.mobile and t.id < s.id and t.same_as_id is null and exists (
         select 1 from subscriber s where s.id = t.id and (${other.text}) is null))))`,
    ...other.bindings,
  );
}

/** Had as many as the house and they themselves allow: core's `hadEnough`, by the index of what counts. */
function overLimit({ perWeek, sinceMs, firing, spares }: Limit): Sql {
  const had = sql(
    `(select count(*) from delivery d where d.subscriber_id = s.id and d.counts and d.firing_id <> ?
        and ((d.sent_at >= ? and d.state in ('sent', 'delivered'))
          or (d.sent_at is null and d.state = 'sending' and d.firing_id < ?)))`,
    firing ?? 0,
    new Date(sinceMs),
    firing ?? 0,
  );
  const enough =
    perWeek === null
      ? sql(`(s.most_per_week is not null and ${had.text} >= s.most_per_week)`, ...had.bindings)
      : sql(`${had.text} >= least(coalesce(s.most_per_week, ?), ?)`, ...had.bindings, perWeek, perWeek);
  if (spares === null) return enough;
  const spared = testOf(spares);
  return sql(`(${enough.text} and not (${spared.text}))`, ...enough.bindings, ...spared.bindings);
}

/** Could only be told after it has begun, and did not ask to be there. */
function tooQuiet({ leftOut, spares }: Quiet): Sql {
  const inZones = inList(leftOut);
  if (spares === null) return sql(`s.zone in ${inZones.text}`, ...inZones.bindings);
  const spared = testOf(spares);
  return sql(`(s.zone in ${inZones.text} and not (${spared.text}))`, ...inZones.bindings, ...spared.bindings);
}

/** Does a person `s` wait for the end of quiet hours? */
export function waitsSql(quiet: Quiet | null | undefined): Sql {
  if (!quiet?.waits.length) return sql('false');
  const zones = inList(quiet.waits.map(({ zone }) => zone));
  return sql(`s.zone in ${zones.text}`, ...zones.bindings);
}

/** When a message to a person `s` goes: at once, or as their quiet hours end. */
export function goesAtSql(quiet: Quiet | null | undefined, now: Date): Sql {
  if (!quiet?.waits.length) return sql('?', now);
  const whens = quiet.waits.map(() => 'when ? then ?').join(' ');
  return sql(
    `case s.zone ${whens} else ? end`,
    ...quiet.waits.flatMap(({ zone, untilMs }) => [zone, new Date(untilMs)]),
    now,
  );
}

/** Whether a message to a person `s` counts for how often they are written to. */
export function countsSql(limit: Limit | null): Sql {
  if (limit === null) return sql('false');
  return limit.spares === null ? sql('true') : negated(testOf(limit.spares));
}

const joined = (parts: readonly Sql[], word: 'and' | 'or'): Sql =>
  parts.length === 0
    ? sql(word === 'and' ? 'true' : 'false')
    : sql(`(${parts.map(({ text }) => text).join(` ${word} `)})`, ...parts.flatMap(({ bindings }) => bindings));

/** A tree asked of one person `s`. */
export function testOf(tree: Tree): Sql {
  if (tree.kind === 'all') return joined(tree.of.map(testOf), 'and');
  if (tree.kind === 'any') return joined(tree.of.map(testOf), 'or');
  if (tree.kind === 'none') return negated(joined(tree.of.map(testOf), 'or'));
  return compileCondition(tree, unknownSize).test;
}

/** Where those are found of whom a tree is so; everybody is looked at only where nothing narrower says. */
function compile(tree: Tree, sizeOf: SizeOf): Chosen {
  const { ids, rest } = find(tree, sizeOf);
  return ids === null ? { ids: sql('select id as subscriber_id from subscriber'), rest } : { ids, rest };
}

interface Found {
  readonly ids: Compiled['ids'];
  readonly rest: Sql;
  readonly size: number;
}

function find(tree: Tree, sizeOf: SizeOf): Found {
  if (tree.kind === 'none') return { ids: null, rest: testOf(tree), size: Infinity };
  if (tree.kind === 'all') {
    const parts = tree.of.map((of) => ({ of, ...find(of, sizeOf) })).sort((a, b) => a.size - b.size);
    const [smallest, ...others] = parts;
    if (!smallest || smallest.ids === null) return { ids: null, rest: testOf(tree), size: Infinity };
    const rest = joined([smallest.rest, ...others.map(({ of }) => testOf(of))], 'and');
    return { ids: smallest.ids, rest, size: smallest.size };
  }
  if (tree.kind === 'any') {
    const parts = tree.of.map((of) => find(of, sizeOf));
    if (parts.length === 0) return { ids: nobody, rest: sql('true'), size: 0 };
    const size = parts.reduce((sum, part) => sum + part.size, 0);
    const sets = parts.flatMap(({ ids, rest }) => (ids === null ? [] : [withRest(ids, rest)]));
    if (sets.length < parts.length) return { ids: null, rest: testOf(tree), size: Infinity };
    // `union` makes each once.
    const ids = sql(sets.map(({ text }) => text).join(' union '), ...sets.flatMap(({ bindings }) => bindings));
    return { ids, rest: sql('true'), size };
  }
  const { ids, test, size } = compileCondition(tree, sizeOf);
  return ids === null ? { ids, rest: test, size } : { ids, rest: sql('true'), size };
}

const nobody = sql('select id as subscriber_id from subscriber where false');

function withRest(ids: Sql, rest: Sql): Sql {
  if (rest.text === 'true' || rest.text === '(true)') return ids;
  const { from, where } = peopleOf(ids, rest);
  return sql(`select s.id as subscriber_id from ${from.text} where ${where.text}`, ...from.bindings, ...where.bindings);
}
