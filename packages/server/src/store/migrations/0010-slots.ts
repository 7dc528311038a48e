import type { Knex } from 'knex';

/** A firing is named by its cue, slot and zone group; why it is held is a code, and its sentence is made elsewhere. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table firing rename column occurrence to slot');
  await db.schema.alterTable('firing', (t) => {
    // The zone of the people it is for, where its cue goes by each person's clock.
    t.string('zone', 64).notNullable().defaultTo('');
    t.string('held', 20).nullable();
    t.string('held_by', 120).notNullable().defaultTo('');
    t.index(['event_id', 'state', 'due_at']);
  });
  // The foreign key of cue_id needs an index at every moment: the new one before the old one goes.
  await db.raw('alter table firing add unique firing_name (cue_id, slot, zone)');
  await db.raw('alter table firing drop index firing_cue_id_occurrence_unique');
  for (const [note, code] of codes) await db.raw(`update firing set held = ?, note = '' where note = ?`, [code, note]);
  await db.raw(
    `update firing set held = 'by-person', held_by = trim(trailing '.' from substring(note, 12)), note = ''
     where note like 'Stopped by %.' and state = 'stopped'`,
  );
}

const codes: readonly (readonly [string, string])[] = [
  ['The event was called off.', 'event-off'],
  ['This date was called off.', 'date-off'],
  ['Its moment had passed, or was less than 10 minutes away, when it was planned.', 'passed'],
  ['No worker was up at its moment, and it is more than an hour late.', 'no-worker'],
  ['It was still a draft at its moment.', 'still-draft'],
];
