import type { Knex } from 'knex';

/** Something that a cue gave a member to do. */
export interface StoredTask {
  readonly id: number;
  readonly memberId: number;
  readonly memberName: string;
  readonly memberEmail: string;
  readonly eventId: number | null;
  readonly text: string;
  readonly at: Date;
}

interface Row {
  id: number;
  member_id: number;
  name: string;
  email: string;
  event_id: number | null;
  text: string;
  given_at: Date;
}
const taskOf = (row: Row): StoredTask => ({
  id: row.id,
  memberId: row.member_id,
  memberName: row.name,
  memberEmail: row.email,
  eventId: row.event_id,
  text: row.text,
  at: row.given_at,
});

/** Tasks go with the member whose they are. */
export function taskStore(db: Knex) {
  const tasks = () =>
    db('task as t')
      .join('user as m', 'm.id', 't.member_id')
      .select('t.id', 't.member_id', 'm.name', 'm.email', 't.event_id', 't.text', 't.given_at');
  return {
    async give(task: { readonly memberId: number; readonly eventId: number | null; readonly text: string }, at: Date) {
      await db('task').insert({
        member_id: task.memberId,
        event_id: task.eventId,
        text: task.text.slice(0, 500),
        given_at: at,
      });
    },
    /** Those that nobody has done yet, the oldest first. */
    async open(most: number): Promise<StoredTask[]> {
      const rows: Row[] = await tasks().whereNull('t.done_at').orderBy('t.id').limit(most);
      return rows.map(taskOf);
    },
    /** @returns whether it was still to be done */
    async setDone(id: number, by: string, at: Date): Promise<boolean> {
      return (
        (await db('task')
          .where({ id })
          .whereNull('done_at')
          .update({ done_at: at, done_by: by.slice(0, 120) })) > 0
      );
    },
    /** Takes the next that its member was not told of; it counts as told. To be called in a transaction. */
    async takeUntold(now: Date): Promise<StoredTask | null> {
      const row: { id: number } | undefined = await db('task')
        .whereNull('told_at')
        .orderBy('id')
        .forUpdate()
        .skipLocked()
        .first('id');
      if (!row) return null;
      await db('task').where({ id: row.id }).update({ told_at: now });
      const [task]: Row[] = await tasks().where('t.id', row.id);
      return task ? taskOf(task) : null;
    },
    /** The mail could not be handed over: it is told again. */
    async setUntold(id: number): Promise<void> {
      await db('task').where({ id }).update({ told_at: null });
    },
    /** What was done so long ago, a few at a time. */
    async forget(before: Date): Promise<void> {
      await db('task').where('done_at', '<', before).limit(5000).delete();
    },
  };
}
