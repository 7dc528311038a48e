import type { Knex } from 'knex';

/** Places are given by rows of their own, beside what people answered. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('registration', (t) => {
    t.bigIncrements('id');
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    // The date's name; empty for a one-off, or a place at every date of a series.
    t.specificType('occurrence', "varchar(20) not null default ''");
    // pending, waitlisted, confirmed, cancelled
    t.string('state', 10).notNullable();
    t.specificType('places', 'smallint unsigned').notNullable().defaultTo(1);
    t.string('tier', 60).notNullable().defaultTo('');
    // What was answered to the questions of the form.
    t.json('answers').nullable();
    t.specificType('registered_at', 'datetime(3)').notNullable();
    t.specificType('changed_at', 'datetime(3)').notNullable();
    t.unique(['event_id', 'subscriber_id', 'occurrence']);
    t.index(['event_id', 'occurrence', 'state', 'places']);
    t.index(['subscriber_id']);
  });
  const takes = `join event e on e.id = i.event_id
     join event_version v on v.event_id = e.id and v.number = e.version and json_type(json_extract(v.facts, '$.registration')) = 'OBJECT'`;
  await db.raw(
    `insert into registration (event_id, subscriber_id, occurrence, state, registered_at, changed_at)
     select i.event_id, i.subscriber_id, '', 'confirmed', coalesce(i.replied_at, i.invited_at), coalesce(i.replied_at, i.invited_at)
     from invitee i ${takes}
     where i.reply = 'accepted' and not i.is_by_date and i.invited_at is not null`,
  );
  await db.raw(
    `insert into registration (event_id, subscriber_id, occurrence, state, registered_at, changed_at)
     select o.event_id, o.subscriber_id, o.occurrence, if(o.reply = 'accepted', 'confirmed', 'cancelled'),
       coalesce(o.replied_at, i.invited_at), coalesce(o.replied_at, i.invited_at)
     from invitee_occurrence o
     join invitee i on i.event_id = o.event_id and i.subscriber_id = o.subscriber_id ${takes}
     where o.reply is not null and i.invited_at is not null`,
  );
}
