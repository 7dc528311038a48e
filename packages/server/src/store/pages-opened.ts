import type { Knex } from 'knex';

/** Pages that people have of their own. */
export const ownPages = ['reply', 'calendar', 'preferences'] as const;
export type OwnPage = (typeof ownPages)[number];

const forgottenAtOnce = 5000;

/** Which pages people opened by their own links. */
export function pagesOpenedStore(db: Knex) {
  return {
    /** Notes it, once a day; of who minds nothing is noted. @param eventId that the page is about; 0 for none */
    async note(id: number, page: OwnPage, eventId: number, at: Date): Promise<void> {
      await db.raw(
        `insert into page_opened (subscriber_id, page, event_id, day, at)
         select id, ?, ?, date(?), ? from subscriber where id = ? and not minds_noting and erased_at is null
         on duplicate key update at = values(at)`,
        [page, eventId, at, at, id],
      );
    },
    /** Whoever minds has nothing noted of them, nor kept. */
    async setMinds(id: number, minds: boolean): Promise<void> {
      await db('subscriber').where({ id }).update({ minds_noting: minds });
      if (!minds) return;
      await db('page_opened').where({ subscriber_id: id }).delete();
      await db('link_pressed').where({ subscriber_id: id }).delete();
    },
    /** Drops what was noted longer ago, some at a time. @returns whether there may be more */
    async forget(before: Date): Promise<boolean> {
      return (await db('page_opened').where('day', '<', before).limit(forgottenAtOnce).delete()) === forgottenAtOnce;
    },
    /** All of it, once the house notes none any more: some at a time. @returns whether there may be more */
    async forgetAll(): Promise<boolean> {
      return (await db('page_opened').limit(forgottenAtOnce).delete()) === forgottenAtOnce;
    },
  };
}
