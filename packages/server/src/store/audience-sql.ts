import { rules, type Audience, type Channel, type Reason } from '@convite/core';
import { inList, sql, type Sql } from './database';

/** The set-wise twin of core's `whyNot`: a CASE over core's own ordered rules, with `s` as the subscriber. */
export function reasonSql(audience: Audience, channel: Channel, eventId: number | null): Sql {
  const branches = rules
    .filter((rule) => rule.channels.includes(channel))
    .map((rule) => {
      const condition = conditions(audience, eventId)[rule.reason];
      return sql(`when ${condition.text} then '${rule.reason}'`, ...condition.bindings);
    });
  return sql(
    `case ${branches.map((branch) => branch.text).join(' ')} end`,
    ...branches.flatMap((branch) => branch.bindings),
  );
}

/** The people an audience could mean at all, as a subselect of subscriber ids. */
export function candidatesSql(audience: Audience, eventId: number | null): Sql {
  const replies = inList(audience.invitees);
  const lists = inList(audience.lists);
  return sql(
    `select subscriber_id from invitee where event_id = ? and invited_at is not null and reply in ${replies.text}
     union select subscriber_id from list_member where list_id in ${lists.text}`,
    eventId,
    ...replies.bindings,
    ...lists.bindings,
  );
}

/** Everybody worth a reason: the candidates and all who are invited. */
export function populationSql(audience: Audience, eventId: number | null): Sql {
  const candidates = candidatesSql(audience, eventId);
  return sql(
    `${candidates.text} union select subscriber_id from invitee where event_id = ? and invited_at is not null`,
    ...candidates.bindings,
    eventId,
  );
}

function conditions(audience: Audience, eventId: number | null): Record<Reason, Sql> {
  const candidates = candidatesSql(audience, eventId);
  const except = inList(audience.exceptLists);
  const topics = inList(audience.topics ?? []);
  return {
    'not-chosen': sql(`s.id not in (${candidates.text})`, ...candidates.bindings),
    'left-out': sql(
      `exists (select 1 from list_member x where x.subscriber_id = s.id and x.list_id in ${except.text})`,
      ...except.bindings,
    ),
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
