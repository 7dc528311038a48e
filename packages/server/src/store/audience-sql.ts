import { rules, startOfKey, type Audience, type Channel, type Reason, type ReplyState } from '@convite/core';
import { inList, sql, type Sql } from './database';
import { replyOfDate } from './registrations';

/** Whose answers an audience is about: those to an event, or to one of its dates. */
export interface Target {
  /** Null for what is about no event, such as a digest. */
  readonly eventId: number | null;
  /** Key of the date; empty for the whole. */
  readonly occurrence: string;
  /** Everybody has their own time: then `occurrence` is the time, and only those who have it are meant. */
  readonly isPersonal: boolean;
}

export const wholeEvent = (eventId: number | null): Target => ({ eventId, occurrence: '', isPersonal: false });

/** The set-wise twin of core's `whyNot`: a CASE over core's own ordered rules, with `s` as the subscriber. */
export function reasonSql(audience: Audience, channel: Channel, target: Target): Sql {
  return caseSql(audience, channel, target, () => true);
}

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

/** Those who get the message: chosen, at their own time, and with no reason against it. */
export function getsSql(audience: Audience, channel: Channel, target: Target): People {
  return peopleOf(candidatesSql(audience, target), getsOfChosen(audience, channel, target));
}

/** The same from lists alone and from invitees alone, for whoever looks for one of them and no more. */
export function getsByPart(audience: Audience, channel: Channel, target: Target): People[] {
  return partsOf(audience, target).map((part) => peopleOf(part, getsOfChosen(audience, channel, target)));
}

function getsOfChosen(audience: Audience, channel: Channel, target: Target): Sql {
  const other = otherTimeSql(target);
  // Being among the candidates is the first rule; it need not be looked up once more for each of them.
  const reason = caseSql(audience, channel, target, (rule) => rule !== 'not-chosen');
  return sql(`not (${other.text}) and (${reason.text}) is null`, ...other.bindings, ...reason.bindings);
}

function caseSql(audience: Audience, channel: Channel, target: Target, isAsked: (reason: Reason) => boolean): Sql {
  const all = conditions(audience, target);
  const branches = rules
    .filter((rule) => rule.channels.includes(channel) && isAsked(rule.reason))
    .map((rule) => sql(`when ${all[rule.reason].text} then '${rule.reason}'`, ...all[rule.reason].bindings));
  return sql(
    `case ${branches.map((branch) => branch.text).join(' ')} end`,
    ...branches.flatMap((branch) => branch.bindings),
  );
}

/** The people an audience could mean at all, as a subselect of subscriber ids, each once. */
export const candidatesSql = (audience: Audience, target: Target): Sql => unionOf(partsOf(audience, target));

/** Invitees by their answers, and members of lists; each person once in each. */
function partsOf(audience: Audience, target: Target): Sql[] {
  const lists = inList(audience.lists);
  const once = audience.lists.length > 1 ? 'distinct ' : '';
  return [
    ...(audience.invitees.length ? [answeredSql(audience.invitees, target)] : []),
    ...(audience.lists.length
      ? [sql(`select ${once}subscriber_id from list_member where list_id in ${lists.text}`, ...lists.bindings)]
      : []),
  ];
}

/** `union` makes each once; one set alone needs none, and nothing is nobody. */
function unionOf(parts: readonly Sql[]): Sql {
  if (parts.length === 0) return sql('select id as subscriber_id from subscriber where false');
  return sql(parts.map(({ text }) => text).join(' union '), ...parts.flatMap(({ bindings }) => bindings));
}

/** Invitees whose answer is one of these, as a subselect of subscriber ids: an answer for the date goes before the whole's. */
function answeredSql(states: readonly ReplyState[], { eventId, occurrence, isPersonal }: Target): Sql {
  const replies = inList(states);
  if (isPersonal || occurrence === '')
    return sql(
      `select subscriber_id from invitee
       where event_id = ? and invited_at is not null and not is_by_date and reply in ${replies.text}`,
      eventId,
      ...replies.bindings,
    );
  return sql(
    `select i.subscriber_id from invitee i
     left join invitee_occurrence o on o.event_id = i.event_id and o.subscriber_id = i.subscriber_id and o.occurrence = ?
     where i.event_id = ? and i.invited_at is not null and ${replyOfDate} in ${replies.text}`,
    occurrence,
    eventId,
    ...replies.bindings,
  );
}

/** Everybody worth a reason: the candidates and all who are invited. */
export function populationSql(audience: Audience, target: Target): Sql {
  const invited = sql(
    'select subscriber_id from invitee where event_id = ? and invited_at is not null',
    target.eventId,
  );
  return unionOf([...partsOf(audience, target), invited]);
}

function conditions(audience: Audience, target: Target): Record<Reason, Sql> {
  const candidates = candidatesSql(audience, target);
  const except = inList(audience.exceptLists);
  const topics = inList(audience.topics ?? []);
  const other = otherTimeSql(target);
  const answered = answeredSql(audience.exceptReplies, target);
  return {
    'not-chosen': sql(`(s.id not in (${candidates.text}) or ${other.text})`, ...candidates.bindings, ...other.bindings),
    'left-out': audience.exceptLists.length
      ? sql(
          `exists (select 1 from list_member x where x.subscriber_id = s.id and x.list_id in ${except.text})`,
          ...except.bindings,
        )
      : sql('false'),
    answered: audience.exceptReplies.length ? sql(`s.id in (${answered.text})`, ...answered.bindings) : sql('false'),
    'other-topics':
      audience.topics === null
        ? sql('false')
        : sql(
            `(exists (select 1 from subscriber_topic t where t.subscriber_id = s.id)
              and not exists (select 1 from subscriber_topic t where t.subscriber_id = s.id and t.topic in ${topics.text}))`,
            ...topics.bindings,
          ),
    'opted-out': sql('s.opted_out_at is not null'),
    'no-email': sql('s.email is null'),
    bounced: sql('s.bounced_at is not null'),
    'no-mobile': sql("s.mobile = ''"),
    'no-text-consent': sql('not s.text_consent'),
  };
}

/** Has another time of their own than this firing is for. */
function otherTimeSql({ eventId, occurrence, isPersonal }: Target): Sql {
  if (!isPersonal) return sql('false');
  const own = `select 1 from personal p where p.event_id = ? and p.subscriber_id = s.id and p.start`;
  return occurrence === ''
    ? sql(`exists (${own} <> '')`, eventId)
    : sql(`not exists (${own} = ?)`, eventId, startOfKey(occurrence));
}
