import * as z from 'zod';
import { sayProblem, unnamedHouse } from '@convite/contract';
import { shiftableClock } from './clock';
import { databaseUrls } from './config';
import { demoTeam, loadDemo } from './demo/load';
import { letOwnerIn } from './services/accounts/let-owner-in';
import { hashPassword, judgePassword } from './services/accounts/passwords';
import { newHouse } from './services/new-house';
import { openDatabase } from './store/database';
import { demoBulk } from './store/demo-bulk';
import { migrate } from './store/migrate';
import { openStore } from './store/store';

/** Brings a database up to date and, when it is empty, fills it: with the demonstration, or with a first owner. */
const shape = z
  .object({
    DATABASE_URL: databaseUrls,
    CONVITE_DEMO: z.enum(['true', 'false']).default('false'),
    DEMO_PEOPLE: z.coerce.number().int().min(10).max(200_000).default(1500),
    WEB_CALENDAR_URL: z.url().default('http://127.0.0.1:4102/calendar'),
    OWNER_EMAIL: z.email().default('owner@example.org'),
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
await migrate(db);
const store = openStore(db);
if (env.OWNER_RESET === 'true') await resetOwner(env.OWNER_PASSWORD);
else if (await store.house.hasSettings()) console.log('The database is set up; nothing to do.');
else if (env.CONVITE_DEMO === 'true') {
  await loadDemo(store, demoBulk(db), {
    nowMs: Date.now(),
    webCalendarUrl: env.WEB_CALENDAR_URL,
    people: env.DEMO_PEOPLE,
  });
  console.log(`The demonstration is loaded; sign in as ${demoTeam.map(({ email }) => email).join(', ')}.`);
} else if (env.OWNER_PASSWORD) {
  await store.members.create({
    name: 'Owner',
    email: env.OWNER_EMAIL,
    role: 'owner',
    passwordHash: await hashPassword(env.OWNER_PASSWORD),
  });
  await store.house.saveSettings(newHouse(env.ORGANISATION, env.OWNER_EMAIL));
  console.log(`Set up; sign in as ${env.OWNER_EMAIL}.`);
} else {
  console.error(
    'The database is empty. Set OWNER_EMAIL and OWNER_PASSWORD (12 characters or more) for its first owner, or CONVITE_DEMO=true.',
  );
  process.exitCode = 1;
}
await db.destroy();

async function resetOwner(password: string | undefined): Promise<void> {
  const isIn =
    password !== undefined && (await letOwnerIn({ store, clock: shiftableClock() }, env.OWNER_EMAIL, password));
  if (isIn) console.log(`${env.OWNER_EMAIL} is an owner, with that password and no second factor.`);
  else {
    console.error('Set OWNER_EMAIL to somebody on the team, and OWNER_PASSWORD to their new password.');
    process.exitCode = 1;
  }
}
