import type { Knex } from 'knex';

/**
 * Each time that all personal links were ended, and what looks as if somebody had used the doors that this version closes: links
 * in previews, forms that replaced a known number, and forged delivery reports. What happened before is looked through once, here.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('link_ending', (t) => {
    t.increments('id');
    t.specificType('at', 'datetime(3)').notNullable();
    t.string('by_name', 120).notNullable();
  });
  await db.schema.createTable('misuse', (t) => {
    t.increments('id');
    // number, answer, act, pause
    t.string('kind', 10).notNullable();
    t.bigInteger('subscriber_id').unsigned().nullable();
    t.integer('event_id').unsigned().nullable();
    t.specificType('at', 'datetime(3)').notNullable();
    t.string('what', 500).notNullable();
    t.specificType('reviewed_at', 'datetime(3)').nullable();
    t.string('reviewed_by', 120).notNullable().defaultTo('');
    t.index(['reviewed_at', 'id']);
  });
  await findMisuses(db);
}

/** Notes what looks like it. @param db with the tables of before, and an empty table `misuse` */
export async function findMisuses(db: Knex): Promise<void> {
  for (const statement of [numbers, answers, acts, pauses]) await db.raw(statement);
}

/** Known people who confirmed a form, and whose consent to texts is older than the number that they have now may be. */
const numbers = `
  insert into misuse (kind, subscriber_id, at, what)
  select 'number', s.id, max(a.at), concat('Confirmed the form ', max(a.what), '. The mobile number may be another since, and texts go to it.')
  from audit a
  join subscriber s on s.id = cast(substring(a.by_name, 8) as unsigned)
  where a.kind = 'sign-up' and a.action = 'sign-up: confirmed' and a.by_name like 'person %'
    and s.mobile <> '' and s.text_consent and s.created_at < a.at - interval 1 minute
    and not exists (
      select 1 from consent c
      where c.subscriber_id = s.id and c.channel = 'text' and c.is_given and c.source = 'text' and c.at > a.at)
  group by s.id`;

/** Viewers had working personal links before them: answers on a page within an hour of a viewer's sign-in. */
const answers = `
  insert into misuse (kind, subscriber_id, event_id, at, what)
  select straight_join 'answer', i.subscriber_id, i.event_id, max(i.replied_at),
    concat('Answered ', max(i.reply), ' on their page, within an hour of the sign-in of the viewer ', max(v.name), '.')
  from (
    select a.at, u.name from user u join audit a on a.member_id = u.id and a.kind = 'sign-in'
    where u.role = 'viewer' and a.action = 'sign-in: in' and a.at > now(3) - interval 180 day) v
  join event e
  join invitee i on i.event_id = e.id and i.replied_at between v.at and v.at + interval 1 hour
  join subscriber s on s.id = i.subscriber_id
  where i.reply <> 'needs-action' and not exists (
    select 1 from reply r where r.event_id = e.id and r.attendee = s.email and r.verdict = 'apply')
  group by i.event_id, i.subscriber_id`;

/** What was done by personal links within an hour of a viewer's sign-in, or from where a member had signed in that day. */
const acts = `
  insert into misuse (kind, subscriber_id, at, what)
  select 'act', cast(substring(max(if(a.by_name like 'person %', a.by_name, a.what)), 8) as unsigned), max(a.at),
    concat(max(a.action), ', ', max(if(a.by_name like 'person %', a.by_name, a.what)), ', soon after the sign-in of ', min(s.by_name), '.')
  from audit a
  join audit s on s.kind = 'sign-in' and s.action = 'sign-in: in' and s.at between a.at - interval 1 day and a.at
  left join user u on u.id = s.member_id
  where a.at > now(3) - interval 180 day
    and (a.action in ('preferences: saved by themselves', 'address: changed by themselves', 'held: taken by themselves')
      or (a.action = 'person: erased' and a.by_name = 'themselves'))
    and ((u.role = 'viewer' and s.at > a.at - interval 1 hour) or (a.address <> '' and a.address = s.address))
  group by a.id`;

/** The sending was paused in the words of a report that came back. */
const pauses = `
  insert into misuse (kind, at, what)
  select 'pause', p.at, p.what from audit p
  where p.kind = 'sending' and p.action = 'sending: paused' and exists (
    select 1 from audit b
    where b.kind = 'bounce' and b.action = 'bounce: came back' and b.id < p.id and b.at > p.at - interval 10 minute
      and right(b.what, char_length(p.what) - 29) = substring(p.what, 30))`;
