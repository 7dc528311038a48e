import type { About, Condition, FieldTest, Step } from '@convite/core';
import { inList, likePrefix, sql, type Sql } from './database';
import { replyOfDate } from './registrations';

/** A condition in SQL: asked of one person, and where all are found of whom it is so. */
export interface Compiled {
  /** About the subscriber `s`. */
  readonly test: Sql;
  /** A subselect of `subscriber_id`, each once, by an index; null where only looking at everybody tells. */
  readonly ids: Sql | null;
  /** About how many those are, for choosing where to begin; smaller is better. */
  readonly size: number;
}

/** Sizes of what is found, where nothing better is known. */
const sizes = { person: 1, guests: 5_000, field: 50_000, list: 100_000, topic: 200_000, all: Infinity };

/** @param sizeOf how many are on a list, where that is known */
export function compileCondition(condition: Condition, sizeOf: (list: number) => number | undefined): Compiled {
  switch (condition.kind) {
    case 'list': {
      const lists = inList(condition.lists);
      const once = condition.lists.length > 1 ? 'distinct ' : '';
      return {
        test: exists('list_member m', 'm', sql(`m.list_id in ${lists.text}`, ...lists.bindings)),
        ids: sql(`select ${once}subscriber_id from list_member where list_id in ${lists.text}`, ...lists.bindings),
        size: condition.lists.reduce((sum, list) => sum + (sizeOf(list) ?? sizes.list), 0),
      };
    }
    case 'topic':
      return found('subscriber_topic', hasTopic(condition.topics), sizes.topic, condition.topics.length > 1);
    case 'other-topics': {
      const these = hasTopic(condition.topics);
      return asked(
        sql(
          `(${exists('subscriber_topic m', 'm', sql('true')).text} and not ${exists('subscriber_topic m', 'm', these).text})`,
          ...these.bindings,
        ),
      );
    }
    case 'field':
      return fieldOf(condition.field, condition.test);
    case 'consent':
      return asked(
        condition.channel === 'email'
          ? sql('(s.email_consent and s.opted_out_at is null)')
          : sql('(s.text_consent and s.opted_out_at is null)'),
      );
    case 'textable':
      return asked(sql("(s.mobile <> '' and s.text_consent and s.opted_out_at is null and s.same_as_id is null)"));
    case 'zone': {
      const zones = inList(condition.zones);
      return asked(sql(`s.zone in ${zones.text}`, ...zones.bindings));
    }
    case 'person': {
      const ids = inList(condition.ids);
      return {
        test: sql(`s.id in ${ids.text}`, ...ids.bindings),
        ids: sql(`select id as subscriber_id from subscriber where id in ${ids.text}`, ...ids.bindings),
        size: sizes.person,
      };
    }
    case 'answered':
      return answered(condition.about, inList(condition.replies));
    case 'answered-any':
      return answeredAny(condition.event, inList(condition.replies), condition.sinceMs);
    case 'segment':
      throw new Error('a segment is put in its place before it is compiled');
    case 'registered':
      return placed(condition.about, 'confirmed');
    case 'waitlisted':
      return placed(condition.about, 'waitlisted');
    case 'in-person':
      return placed(condition.about, 'confirmed', " and m.presence <> 'online'");
    case 'online':
      return placed(condition.about, 'confirmed', " and m.presence = 'online'");
    case 'attended':
    case 'no-show': {
      const { where, bindings } = ofDate(condition.about);
      return guests(
        'invitee_occurrence m',
        sql(`${where} and m.attended = ?`, ...bindings, condition.kind === 'attended'),
      );
    }
    case 'guest':
      return guests('invitee m', sql('m.event_id = ?', condition.event));
    case 'holds':
      return guests(
        'invitee m join event e on e.id = m.event_id',
        sql(
          `m.event_id = ? and m.holds_version ${condition.version === 'newest' ? '>=' : '<'} e.version`,
          condition.event,
        ),
      );
    case 'step':
      return stepped(condition);
    case 'invited': {
      const { event } = condition;
      const onItsWay = sql(
        `exists (select 1 from delivery d join firing f on f.id = d.firing_id
                 where d.subscriber_id = s.id and d.state in ('queued', 'sending') and f.event_id = ? and f.kind = 'invitation')`,
        event,
      );
      const has = exists('invitee m', 'm', sql('m.event_id = ? and m.holds_version is not null', event));
      return asked(sql(`(${has.text} or ${onItsWay.text})`, ...has.bindings, ...onItsWay.bindings));
    }
    case 'had-it': {
      const { cue, slot, zone } = condition;
      return asked(
        sql(
          `exists (select 1 from firing f join delivery d on d.firing_id = f.id and d.subscriber_id = s.id
                   where f.cue_id = ? and f.slot = ? and f.zone not in ('', ?) and d.state in ('queued', 'sending', 'sent', 'delivered'))`,
          cue,
          slot,
          zone,
        ),
      );
    }
    case 'own-time': {
      const { event, start } = condition;
      return start === ''
        ? asked(negated(exists('personal m', 'm', sql(`m.event_id = ? and m.start <> ''`, event))))
        : guests('personal m', sql('m.event_id = ? and m.start = ?', event, start));
    }
    case 'got': {
      const about = condition.event === null ? sql('true') : sql('f.event_id = ?', condition.event);
      const since = new Date(condition.sinceMs);
      const sentIn = (table: string): Sql =>
        sql(
          `exists (select 1 from ${table} d join firing f on f.id = d.firing_id
                   where d.subscriber_id = s.id and d.channel <> 'act' and d.state in ('sent', 'delivered') and d.sent_at >= ?
                     and f.kind = ? and ${about.text})`,
          since,
          condition.message,
          ...about.bindings,
        );
      const [hot, past] = [sentIn('delivery'), sentIn('delivery_past')];
      return asked(sql(`(${hot.text} or ${past.text})`, ...hot.bindings, ...past.bindings));
    }
  }
}

export const negated = ({ text, bindings }: Sql): Sql => sql(`not (${text})`, ...bindings);

const asked = (test: Sql): Compiled => ({ test, ids: null, size: sizes.all });

/** Rows `m` of a table about the subscriber. */
const exists = (from: string, alias: string, where: Sql): Sql =>
  sql(`exists (select 1 from ${from} where ${alias}.subscriber_id = s.id and ${where.text})`, ...where.bindings);

function found(table: string, where: Sql, size: number, isDistinct: boolean): Compiled {
  return {
    test: exists(`${table} m`, 'm', where),
    ids: sql(
      `select ${isDistinct ? 'distinct ' : ''}m.subscriber_id from ${table} m where ${where.text}`,
      ...where.bindings,
    ),
    size,
  };
}

const guests = (from: string, where: Sql): Compiled => ({
  test: exists(from, 'm', where),
  ids: sql(`select distinct m.subscriber_id from ${from} where ${where.text}`, ...where.bindings),
  size: sizes.guests,
});

function hasTopic(topics: readonly string[]): Sql {
  const these = inList(topics);
  return sql(`m.topic in ${these.text}`, ...these.bindings);
}

const ofDate = ({ event, date }: About): { where: string; bindings: Sql['bindings'] } =>
  date === ''
    ? { where: 'm.event_id = ?', bindings: [event] }
    : { where: 'm.event_id = ? and m.occurrence = ?', bindings: [event, date] };

/** A place at the date goes before one at every date. */
function placed({ event, date }: About, state: 'confirmed' | 'waitlisted', also = ''): Compiled {
  const confirmed = sql(`m.event_id = ? and m.state = ?${also}`, event, state);
  if (date === '') return guests('registration m', confirmed);
  return guests(
    'registration m',
    sql(
      `${confirmed.text} and (m.occurrence = ? or (m.occurrence = '' and not exists (
         select 1 from registration o where o.event_id = m.event_id and o.subscriber_id = m.subscriber_id and o.occurrence = ?)))`,
      ...confirmed.bindings,
      date,
      date,
    ),
  );
}

/** Where each step stands, and what has to be so of its row as well. */
export const stepColumns: Readonly<
  Record<Step, { readonly table: string; readonly at: string; readonly also: string }>
> = {
  invitation: { table: 'invitee', at: 'invited_at', also: 'true' },
  registration: { table: 'registration', at: 'registered_at', also: "m.state <> 'cancelled'" },
  approval: { table: 'registration', at: 'confirmed_at', also: "m.state = 'confirmed'" },
};

function stepped({ step, about, fromMs, toMs }: Extract<Condition, { kind: 'step' }>): Compiled {
  const { table, at, also } = stepColumns[step];
  // An invitation is to the whole of it.
  const isOfDates = table === 'registration';
  if (!isOfDates && about.date) return asked(sql('false'));
  const ofDate = isOfDates && about.date !== null ? sql(' and m.occurrence = ?', about.date) : sql('');
  return guests(
    `${table} m`,
    sql(
      `m.event_id = ? and m.${at} >= ? and m.${at} < ? and ${also}${ofDate.text}`,
      about.event,
      new Date(Math.max(fromMs, 0)),
      new Date(Math.min(toMs, endOfTimeMs)),
      ...ofDate.bindings,
    ),
  );
}

/** The last that a column of the database holds. */
const endOfTimeMs = Date.parse('9999-12-31T00:00:00Z');

/** An answer for the date goes before that for the whole, which says nothing of people who come by date. */
function answered({ event, date }: About, replies: Sql): Compiled {
  if (date === '')
    return guests(
      'invitee m',
      sql(
        `m.event_id = ? and m.invited_at is not null and not m.is_by_date and m.reply in ${replies.text}`,
        event,
        ...replies.bindings,
      ),
    );
  const from = `invitee i left join invitee_occurrence o
    on o.event_id = i.event_id and o.subscriber_id = i.subscriber_id and o.occurrence = ?`;
  const where = `i.event_id = ? and i.invited_at is not null and ${replyOfDate} in ${replies.text}`;
  const bindings = [date, event, ...replies.bindings];
  return {
    test: sql(`exists (select 1 from ${from} where i.subscriber_id = s.id and ${where})`, ...bindings),
    ids: sql(`select i.subscriber_id from ${from} where ${where}`, ...bindings),
    size: sizes.guests,
  };
}

/** For the whole, where they have a part in it, or for any date. */
function answeredAny(event: number, replies: Sql, sinceMs: number | null): Compiled {
  const since = sinceMs === null ? sql('') : sql(' and m.replied_at >= ?', new Date(sinceMs));
  const of = (table: string, also: string): Sql =>
    sql(
      `${table} m where m.event_id = ? and ${also} m.reply in ${replies.text}${since.text}`,
      event,
      ...replies.bindings,
      ...since.bindings,
    );
  const [whole, date] = [
    of('invitee', 'm.invited_at is not null and not m.is_by_date and'),
    of('invitee_occurrence', ''),
  ];
  const both = [...whole.bindings, ...date.bindings];
  return {
    test: sql(
      `(exists (select 1 from ${whole.text} and m.subscriber_id = s.id) or exists (select 1 from ${date.text} and m.subscriber_id = s.id))`,
      ...both,
    ),
    ids: sql(`select m.subscriber_id from ${whole.text} union select m.subscriber_id from ${date.text}`, ...both),
    size: sizes.guests,
  };
}

function fieldOf(field: number, test: FieldTest): Compiled {
  const of = (where: string, ...bindings: Sql['bindings']): Compiled =>
    found('subscriber_field', sql(`m.field_id = ? and ${where}`, field, ...bindings), sizes.field, false);
  switch (test.is) {
    case 'filled':
      return of('true');
    case 'number':
      return of('m.number between ? and ?', test.from ?? -Number.MAX_VALUE, test.to ?? Number.MAX_VALUE);
    case 'date':
      return of('m.day between ? and ?', test.from ?? '0000-00-00', test.to ?? '9999-12-31');
    case 'any-of': {
      const values = inList(test.values.map((one) => one.toLowerCase()));
      return of(`m.word in ${values.text}`, ...values.bindings);
    }
    case 'begins-with':
      return of('m.word like ?', likePrefix(test.text.toLowerCase()));
    case 'day-of-year': {
      const days = inList(test.days);
      return of(`m.month_day in ${days.text}`, ...days.bindings);
    }
  }
}
