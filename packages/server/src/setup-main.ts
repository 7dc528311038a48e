import * as z from 'zod';
import { sayProblem, unnamedHouse } from '@convite/contract';
import { isPlaceholderAddress } from '@convite/core';
import { shiftableClock } from './clock';
import { databaseUrls } from './config';
import { demoTeam, loadDemo } from './demo/load';
import { letOwnerIn } from './services/accounts/let-owner-in';
import { hashPassword, judgePassword } from './services/accounts/passwords';
import { newHouse } from './services/new-house';
import { openDatabase } from './store/database';
import { demoBulk } from './store/demo-bulk';
import { migrate } from './store/migrate';
import { withMigrationLock } from './store/migration-lock';
import { openStore } from './store/store';

/** Brings a database up to date and, when it is empty, fills it: with the demonstration, or with a first owner. */
const shape = z
  .object({
    DATABASE_URL: databaseUrls,
    CONVITE_DEMO: z.enum(['true', 'false']).default('false'),
    DEMO_PEOPLE: z.coerce.number().int().min(10).max(200_000).default(1500),
    WEB_CALENDAR_URL: z.url().default('http://127.0.0.1:4102/calendar'),
    OWNER_EMAIL: z
      .literal('')
      .or(
        z.email().refine((email) => !isPlaceholderAddress(email), {
          message: 'is only an example: take an address that the owner reads',
        }),
      )
      .default(''),
    OWNER_PASSWORD: z.string().optional(),
    ORGANISATION: z.string().default(unnamedHouse),
    /** No owner can get in any more: OWNER_EMAIL gets OWNER_PASSWORD, and the second factor goes. */
    OWNER_RESET: z.enum(['true', 'false']).default('false'),
  })
  .superRefine(({ OWNER_PASSWORD: password, OWNER_EMAIL: email }, context) => {
    for (const problem of password === undefined ? [] : judgePassword(password, { name: '', email }))
      context.addIssue({ code: 'custom', path: ['OWNER_PASSWORD'], message: sayProblem(problem) });
  });

const read = shape.safeParse(process.env);
if (!read.success) {
  console.error('Convite cannot be set up:');
  for (const { path, message } of read.error.issues) console.error(`  ${path.join('.')}: ${message}`);
  process.exit(1);
}
const env = read.data;
const db = openDatabase(env.DATABASE_URL);
const store = openStore(db);
try {
  await migrate(env.DATABASE_URL, console.log);
  // Two at once: the second finds what the first made.
  await withMigrationLock(env.DATABASE_URL, { say: console.log, longestWaitMs: 15 * 60_000 }, fill);
} catch (error) {
  console.error(error instanceof Error ? error.message : String(error));
  process.exitCode = 1;
}
await db.destroy();

/** With a first owner, or the demonstration. What was cut off is done anew: a database with settings counts as set up. */
async function fill(): Promise<void> {
  if (env.OWNER_RESET === 'true') await resetOwner(env.OWNER_PASSWORD);
  else if (await store.house.hasSettings()) console.log('The database is set up; nothing to do.');
  else if (env.CONVITE_DEMO === 'true') await fillWithDemo();
  else if (env.OWNER_PASSWORD && env.OWNER_EMAIL) {
    const passwordHash = await hashPassword(env.OWNER_PASSWORD);
    await store.transact(async (tx) => {
      await tx.members.create({ name: 'Owner', email: env.OWNER_EMAIL, role: 'owner', passwordHash });
      await tx.house.saveSettings(newHouse(env.ORGANISATION, env.OWNER_EMAIL));
    });
    console.log(`Set up; sign in as ${env.OWNER_EMAIL}.`);
  } else {
    console.error(
      'The database is empty. Set OWNER_EMAIL and OWNER_PASSWORD (12 characters or more) for its first owner, or CONVITE_DEMO=true.',
    );
    process.exitCode = 1;
  }
}

async function fillWithDemo(): Promise<void> {
  const bulk = demoBulk(db);
  const members = await store.members.all();
  if (members.some(({ email }) => !demoTeam.some((one) => one.email === email)))
    throw new Error('The database has a team and no settings, so nothing is loaded into it. Take an empty database.');
  if (members.length > 0) {
    console.log('The demonstration was loaded in part only. Loading it again.');
    await bulk.clear();
  }
  const { WEB_CALENDAR_URL: webCalendarUrl, DEMO_PEOPLE: people } = env;
  await loadDemo(store, bulk, { nowMs: Date.now(), webCalendarUrl, people });
  console.log(`The demonstration is loaded; sign in as ${demoTeam.map(({ email }) => email).join(', ')}.`);
}

async function resetOwner(password: string | undefined): Promise<void> {
  const isIn =
    password !== undefined && (await letOwnerIn({ store, clock: shiftableClock() }, env.OWNER_EMAIL, password));
  if (isIn) console.log(`${env.OWNER_EMAIL} is an owner, with that password and no second factor.`);
  else {
    console.error('Set OWNER_EMAIL to somebody on the team, and OWNER_PASSWORD to their new password.');
    process.exitCode = 1;
  }
}
