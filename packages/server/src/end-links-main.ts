// `node dist/server/end-links.mjs`: ends all personal links; messages from now on carry others.
import * as z from 'zod';
import { shiftableClock } from './clock';
import { databaseUrls } from './config';
import { endPersonalLinks } from './services/sending/link-generation';
import { openDatabase } from './store/database';
import { migrate } from './store/migrate';
import { openStore } from './store/store';

const read = z.object({ DATABASE_URL: databaseUrls }).safeParse(process.env);
if (!read.success) {
  console.error('Personal links cannot be ended: set DATABASE_URL to the database of Convite.');
  process.exit(1);
}
const db = openDatabase(read.data.DATABASE_URL, 2);
await migrate(read.data.DATABASE_URL, console.log);
await endPersonalLinks({ store: openStore(db), clock: shiftableClock() }, { name: 'the command end-links' });
console.log(
  'All personal links have ended. Servers and workers use new ones within five seconds; old ones lead to a page that sends a new link.',
);
await db.destroy();
