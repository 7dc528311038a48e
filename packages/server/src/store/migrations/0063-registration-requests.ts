import type { Knex } from 'knex';

/**
 * A request to register keeps no place, and each one stands for itself: a later one overwrites none. Letters say whether their
 * sender is proved, since those that are not have a count of their own.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.renameTable('registration_hold', 'registration_request');
  await db.raw(`alter table registration_request
    add column asked_at datetime(3) not null default current_timestamp(3),
    rename column held_until to expires_at,
    drop index registration_hold_event_id_occurrence_email_unique,
    drop index registration_hold_event_id_occurrence_held_until_index,
    add index (event_id),
    add index registration_request_open (email, confirmed_at, expires_at)`);
  // Whoever asked while there was a place, and confirmed too late, comes before those who came in between.
  await db.raw('alter table registration add column waits_since datetime(3) null');
  await db.raw(`update registration set waits_since = registered_at where state = 'waitlisted'`);
  await db.raw(`alter table registration
    drop index registration_waiting, add index registration_waiting (event_id, state, occurrence, waits_since)`);
  await db.schema.alterTable('letter', (t) => {
    t.boolean('is_proved').notNullable().defaultTo(true);
    t.index(['is_proved', 'received_at']);
  });
}
