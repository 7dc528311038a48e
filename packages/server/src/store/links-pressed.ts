import type { Knex } from 'knex';
import { inTransaction } from './retry-locked';

/** Whoever presses every link of a message within this time is a program (common practice), and so is who presses this many. */
const programWithinMs = 2000;
const manyLinks = 3;
/** The number of the picture by which it is seen that a mail was opened: of no link. */
export const openPicture = 0;
const forgottenAtOnce = 5000;

interface Pressed {
  readonly firingId: number;
  /** Which of its typed links, as `linkNumber` knows it. */
  readonly link: number;
  /** A program that says so itself. */
  readonly isProgram: boolean;
}

/** What became of typed links. Sums are kept as it happens; nothing is counted when they are looked at. */
export function linksPressedStore(db: Knex) {
  const add = (tx: Knex, firingId: number, link: number, more: { presses: number; people: number; programs: number }) =>
    tx.raw(
      `insert into link_tally (firing_id, link, presses, people, by_programs) values (?, ?, ?, ?, ?)
       on duplicate key update presses = presses + ?, people = people + ?, by_programs = by_programs + ?`,
      [...[firingId, link, more.presses, more.people, more.programs], ...[more.presses, more.people, more.programs]],
    );
  return {
    /** Notes that a link was pressed, of nobody in particular. */
    async noteOfMessage({ firingId, link, isProgram }: Pressed): Promise<void> {
      await add(db, firingId, link, { presses: isProgram ? 0 : 1, people: 0, programs: isProgram ? 1 : 0 });
    },
    /**
     * Notes that somebody pressed a link. Where every link of their message, or many, were pressed within two seconds, that was a
     * program, and what was taken for theirs in that time is taken back. Locks the rows of that one message.
     * @param links how many typed links the message has
     */
    async noteOfPerson(
      { firingId, link, isProgram }: Pressed,
      { deliveryId, subscriberId, links, at }: { deliveryId: number; subscriberId: number; links: number; at: Date },
    ): Promise<void> {
      await inTransaction(db, async (tx) => {
        const rows: { link: number; presses: number; by_programs: number; at: Date }[] = await tx('link_pressed')
          .where({ delivery_id: deliveryId })
          .whereNot('link', openPicture)
          .forUpdate()
          .select('link', 'presses', 'by_programs', 'at');
        const before = rows.find((row) => row.link === link);
        const since = at.getTime() - programWithinMs;
        const lately = rows.filter((row) => row.at.getTime() >= since && row.link !== link);
        const isAll = links > 1 && lately.length + 1 >= Math.min(links, manyLinks);
        const byProgram = isProgram || isAll;
        await tx.raw(
          `insert into link_pressed (delivery_id, link, firing_id, subscriber_id, presses, by_programs, at) values (?, ?, ?, ?, ?, ?, ?)
           on duplicate key update presses = presses + values(presses), by_programs = by_programs + values(by_programs), at = values(at)`,
          [deliveryId, link, firingId, subscriberId, byProgram ? 0 : 1, byProgram ? 1 : 0, at],
        );
        await add(tx, firingId, link, {
          presses: byProgram ? 0 : 1,
          people: !byProgram && !before?.presses ? 1 : 0,
          programs: byProgram ? 1 : 0,
        });
        if (!isAll) return;
        for (const row of lately.filter(({ presses }) => presses > 0)) {
          await tx('link_pressed')
            .where({ delivery_id: deliveryId, link: row.link })
            .update({ presses: row.presses - 1, by_programs: row.by_programs + 1 });
          await tx('link_tally')
            .where({ firing_id: firingId, link: row.link })
            .update({
              presses: tx.raw('presses - 1'),
              people: tx.raw('people - ?', [row.presses === 1 ? 1 : 0]),
              by_programs: tx.raw('by_programs + 1'),
            });
        }
      });
    },
    /** Notes that the picture of somebody's mail was asked for, as often as it is. */
    async noteOpened({
      firingId,
      deliveryId,
      subscriberId,
      isProgram,
      at,
    }: {
      firingId: number;
      deliveryId: number;
      subscriberId: number;
      isProgram: boolean;
      at: Date;
    }): Promise<void> {
      const [presses, programs] = isProgram ? [0, 1] : [1, 0];
      await inTransaction(db, async (tx) => {
        const before: { presses: number } | undefined = await tx('link_pressed')
          .where({ delivery_id: deliveryId, link: openPicture })
          .forUpdate()
          .first('presses');
        await tx.raw(
          `insert into link_pressed (delivery_id, link, firing_id, subscriber_id, presses, by_programs, at) values (?, ?, ?, ?, ?, ?, ?)
           on duplicate key update presses = presses + values(presses), by_programs = by_programs + values(by_programs), at = values(at)`,
          [deliveryId, openPicture, firingId, subscriberId, presses, programs, at],
        );
        await add(tx, firingId, openPicture, { presses, programs, people: presses > 0 && !before?.presses ? 1 : 0 });
      });
    },
    /** Of each link of a firing that was pressed, its sums. */
    async ofFiring(
      firingId: number,
    ): Promise<Map<number, { readonly presses: number; readonly people: number; readonly byPrograms: number }>> {
      const rows: { link: number; presses: number; people: number; by_programs: number }[] = await db(
        'link_tally',
      ).where({ firing_id: firingId });
      return new Map(
        rows.map(({ link, presses, people, by_programs }) => [link, { presses, people, byPrograms: by_programs }]),
      );
    },
    /** Drops what was noted longer ago of people, some at a time; sums stay. @returns whether there may be more */
    async forget(before: Date): Promise<boolean> {
      return (await db('link_pressed').where('at', '<', before).limit(forgottenAtOnce).delete()) === forgottenAtOnce;
    },
  };
}
