import type { Knex } from 'knex';

/** How often somebody is written to: what they want at most, and which messages count. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('subscriber', (t) => {
    t.specificType('most_per_week', 'tinyint unsigned null');
  });
  await db.schema.alterTable('delivery', (t) => {
    // Decided as it is put beside its person: who comes to an event is reminded of it without its counting.
    t.boolean('counts').notNullable().defaultTo(false);
    t.index(['subscriber_id', 'counts', 'sent_at'], 'delivery_counts_index');
    t.dropIndex(['subscriber_id']);
  });
  // Of the last weeks, so that a limit can be tried on them before it is switched on.
  await db.raw(
    `update firing f join delivery d on d.firing_id = f.id set d.counts = true
     where f.due_at > now() - interval 35 day and f.kind in ('invitation', 'digest', 'cue')
       and (f.kind <> 'cue' or not exists (
         select 1 from invitee i where i.event_id = f.event_id and i.subscriber_id = d.subscriber_id and i.reply = 'accepted'))`,
  );
}
