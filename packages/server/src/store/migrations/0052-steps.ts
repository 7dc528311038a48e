import type { Knex } from 'knex';

/** Cues that are counted from what people do are planned as they do it. */
export async function up(db: Knex): Promise<void> {
  await db.raw("alter table firing modify slot varchar(40) not null default ''");
  await db.raw('alter table registration add column confirmed_at datetime(3) null');
  await db.raw("update registration set confirmed_at = registered_at where state = 'confirmed'");
  await db.raw(
    'alter table registration add index registration_registered (event_id, registered_at), add index registration_confirmed (event_id, confirmed_at)',
  );
  await db.raw('alter table invitee add index invitee_invited (event_id, invited_at)');
  await db.raw(
    'alter table cue add column steps_look_at datetime(3) null, add column steps_seen_at datetime(3) null, add index cue_steps (steps_look_at)',
  );
}
