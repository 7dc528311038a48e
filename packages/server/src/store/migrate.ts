import type { Knex } from 'knex';
import { openDatabase } from './database';
import { withMigrationLock } from './migration-lock';
import { resumably } from './resumably';
import * as foundation from './migrations/0001-foundation';
import * as series from './migrations/0002-series';
import * as registration from './migrations/0003-registration';
import * as sound from './migrations/0004-sound';
import * as accounts from './migrations/0005-accounts';
import * as sizes from './migrations/0006-sizes';
import * as queue from './migrations/0007-queue';
import * as search from './migrations/0008-search';
import * as audience from './migrations/0009-audience';
import * as slots from './migrations/0010-slots';
import * as past from './migrations/0011-past';
import * as places from './migrations/0012-registration';
import * as byClock from './migrations/0013-by-clock';
import * as consent from './migrations/0014-consent';
import * as wording from './migrations/0015-wording';
import * as said from './migrations/0016-said';
import * as toInvite from './migrations/0017-to-invite';
import * as beginning from './migrations/0018-beginning';
import * as guests from './migrations/0019-guests';
import * as housePicture from './migrations/0020-house-picture';
import * as boardFilters from './migrations/0021-board-filters';
import * as cueSearch from './migrations/0022-cue-search';
import * as erasure from './migrations/0023-erasure';
import * as lists from './migrations/0024-lists';
import * as language from './migrations/0025-language';
import * as peopleImports from './migrations/0026-people-imports';
import * as segments from './migrations/0027-segments';
import * as ownSide from './migrations/0028-own-side';
import * as notes from './migrations/0029-notes';
import * as segmentsToInvite from './migrations/0030-segments-to-invite';
import * as pressure from './migrations/0031-pressure';
import * as programs from './migrations/0032-programs';
import * as samePerson from './migrations/0033-same-person';
import * as digestAudience from './migrations/0034-digest-audience';
import * as pagesOpened from './migrations/0035-pages-opened';
import * as keptWordings from './migrations/0036-kept-wordings';
import * as pictures from './migrations/0037-pictures';
import * as houseBlocks from './migrations/0038-house-blocks';
import * as linksPressed from './migrations/0039-links-pressed';
import * as senders from './migrations/0040-senders';
import * as linksByAddress from './migrations/0041-links-by-address';
import * as whatCame from './migrations/0042-what-came';
import * as releases from './migrations/0043-releases';
import * as publishedAt from './migrations/0044-published-at';
import * as standby from './migrations/0045-standby';
import * as tested from './migrations/0046-tested';
import * as plans from './migrations/0047-plans';
import * as late from './migrations/0048-late';
import * as held from './migrations/0049-held';
import * as grace from './migrations/0050-grace';
import * as beside from './migrations/0051-beside';
import * as steps from './migrations/0052-steps';
import * as threads from './migrations/0053-threads';
import * as news from './migrations/0054-news';
import * as contact from './migrations/0055-contact';
import * as texts from './migrations/0056-texts';
import * as doubts from './migrations/0057-doubts';
import * as acts from './migrations/0058-acts';
import * as waitlist from './migrations/0059-waitlist';
import * as waitingTold from './migrations/0060-waiting-told';
import * as sendingTurn from './migrations/0061-sending-turn';
import * as linkEndings from './migrations/0062-link-endings';
import * as registrationRequests from './migrations/0063-registration-requests';
import * as noJoinLink from './migrations/0064-no-join-link';
import * as title from './migrations/0065-title';
import * as peopleTaken from './migrations/0066-people-taken';

interface Migration {
  readonly name: string;
  up(db: Knex): Promise<void>;
}

/** In order; names are stored, so they never change. A list of modules works in development and in the bundle alike. */
const migrations: readonly Migration[] = [
  { name: '0001-foundation', up: foundation.up },
  { name: '0002-series', up: series.up },
  { name: '0003-registration', up: registration.up },
  { name: '0004-sound', up: sound.up },
  { name: '0005-accounts', up: accounts.up },
  { name: '0006-sizes', up: sizes.up },
  { name: '0007-queue', up: queue.up },
  { name: '0008-search', up: search.up },
  { name: '0009-audience', up: audience.up },
  { name: '0010-slots', up: slots.up },
  { name: '0011-past', up: past.up },
  { name: '0012-registration', up: places.up },
  { name: '0013-by-clock', up: byClock.up },
  { name: '0014-consent', up: consent.up },
  { name: '0015-wording', up: wording.up },
  { name: '0016-said', up: said.up },
  { name: '0017-to-invite', up: toInvite.up },
  { name: '0018-beginning', up: beginning.up },
  { name: '0019-guests', up: guests.up },
  { name: '0020-house-picture', up: housePicture.up },
  { name: '0021-board-filters', up: boardFilters.up },
  { name: '0022-cue-search', up: cueSearch.up },
  { name: '0023-erasure', up: erasure.up },
  { name: '0024-lists', up: lists.up },
  { name: '0025-language', up: language.up },
  { name: '0026-people-imports', up: peopleImports.up },
  { name: '0027-segments', up: segments.up },
  { name: '0028-own-side', up: ownSide.up },
  { name: '0029-notes', up: notes.up },
  { name: '0030-segments-to-invite', up: segmentsToInvite.up },
  { name: '0031-pressure', up: pressure.up },
  { name: '0032-programs', up: programs.up },
  { name: '0033-same-person', up: samePerson.up },
  { name: '0034-digest-audience', up: digestAudience.up },
  { name: '0035-pages-opened', up: pagesOpened.up },
  { name: '0036-kept-wordings', up: keptWordings.up },
  { name: '0037-pictures', up: pictures.up },
  { name: '0038-house-blocks', up: houseBlocks.up },
  { name: '0039-links-pressed', up: linksPressed.up },
  { name: '0040-senders', up: senders.up },
  { name: '0041-links-by-address', up: linksByAddress.up },
  { name: '0042-what-came', up: whatCame.up },
  { name: '0043-releases', up: releases.up },
  { name: '0044-published-at', up: publishedAt.up },
  { name: '0045-standby', up: standby.up },
  { name: '0046-tested', up: tested.up },
  { name: '0047-plans', up: plans.up },
  { name: '0048-late', up: late.up },
  { name: '0049-held', up: held.up },
  { name: '0050-grace', up: grace.up },
  { name: '0051-beside', up: beside.up },
  { name: '0052-steps', up: steps.up },
  { name: '0053-threads', up: threads.up },
  { name: '0054-news', up: news.up },
  { name: '0055-contact', up: contact.up },
  { name: '0056-texts', up: texts.up },
  { name: '0057-doubts', up: doubts.up },
  { name: '0058-acts', up: acts.up },
  { name: '0059-waitlist', up: waitlist.up },
  { name: '0060-waiting-told', up: waitingTold.up },
  { name: '0061-sending-turn', up: sendingTurn.up },
  { name: '0062-link-endings', up: linkEndings.up },
  { name: '0063-registration-requests', up: registrationRequests.up },
  { name: '0064-no-join-link', up: noJoinLink.up },
  { name: '0065-title', up: title.up },
  { name: '0066-people-taken', up: peopleTaken.up },
];

/** How long another process may be at it before this one gives up. */
const longestWaitMs = 15 * 60_000;

/**
 * Brings the database's tables up to date. Any number of processes may call it at once: one does it, the others wait. One that was
 * cut off, or whose machine went, is carried on where it stopped.
 * @param urls of the database, as `openDatabase` takes them
 * @param say told in sentences what is done, where it takes a while
 * @throws Error with a sentence, where a step cannot be done or another process does not come to an end
 */
export async function migrate(urls: string, say: (sentence: string) => void = () => undefined): Promise<void> {
  const db = openDatabase(urls, 1);
  try {
    if ((await stepsLeft(db)).length === 0) return;
    await withMigrationLock(urls, { say, longestWaitMs }, async (hasLock) => {
      const left = await stepsLeft(db);
      if (left.length > 3) say(`Bringing the tables up to date: ${left.length} steps.`);
      for (const { name, up } of left) {
        if (!hasLock()) throw new Error('Another process took over bringing the tables up to date.');
        await runStep(db, name, up);
      }
    });
  } finally {
    await db.destroy();
  }
}

async function stepsLeft(db: Knex): Promise<readonly Migration[]> {
  if (!(await db.schema.hasTable('knex_migrations'))) return migrations;
  const done: string[] = await db('knex_migrations').pluck('name');
  return migrations.filter(({ name }) => !done.includes(name));
}

/** One step, and that it is done. @throws Error that names the step */
async function runStep(db: Knex, name: string, up: (db: Knex) => Promise<void>): Promise<void> {
  try {
    await resumably(db, name, () => up(db));
    await db('knex_migrations').insert({ name, batch: 1, migration_time: db.fn.now() });
    await db('migration_step').where({ name }).delete();
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new Error(
      `Step ${name} of bringing the tables up to date failed: ${why}. Run the command again to carry on.`,
      {
        cause: error,
      },
    );
  }
}
