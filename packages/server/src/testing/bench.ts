import { countdownRows } from './bench-countdown';
import { calendarRows, type Row } from './bench-calendars';
import { peopleRows } from './bench-people';
import { sendingRows } from './bench-sending';
import { endChildren } from './bench-stage';
import { openStage, type Stage } from './stage';

const parts: Readonly<Record<string, (stage: Stage) => Promise<Row[]>>> = {
  sending: sendingRows,
  countdown: countdownRows,
  calendars: calendarRows,
  people: peopleRows,
};
const sayEveryMs = 15_000;

/** All parts, or those that are named. */
const named = process.argv.slice(2);
const unknown = named.filter((name) => !(name in parts));
if (unknown.length > 0) {
  console.error(`There is no part “${unknown.join('”, “')}”; there are ${Object.keys(parts).join(', ')}.`);
  process.exit(2);
}
let failed = 0;
for (const [name, measure] of Object.entries(parts))
  if (named.length === 0 || named.includes(name)) failed += (await runPart(name, measure)) ? 0 : 1;
process.exit(failed ? 1 : 0);

/** One part over a database of its own: what another did, or where it failed, is nothing to it. @returns whether it is whole */
async function runPart(name: string, measure: (stage: Stage) => Promise<Row[]>): Promise<boolean> {
  const begunAt = performance.now();
  const seconds = (): string => `${((performance.now() - begunAt) / 1000).toFixed(0)} s`;
  console.log(`${name} …`);
  const progress = setInterval(() => console.log(`${name} … ${seconds()}`), sayEveryMs);
  const stage = await openStage();
  try {
    const rows = await measure(stage);
    console.table(rows);
    const empty = rows.filter(({ figure }) => figure === '' || /NaN|Infinity|undefined/.test(figure));
    for (const { what, figure } of empty) console.error(`WRONG: ${name}: “${what}” measured nothing (${figure}).`);
    if (rows.length === 0) console.error(`WRONG: ${name} measured nothing.`);
    return rows.length > 0 && empty.length === 0;
  } catch (error) {
    // Without what stands in rows: errors of the database carry none (`store/database.ts`).
    console.error(
      `WRONG: ${name}: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}`.slice(0, 4000),
    );
    return false;
  } finally {
    clearInterval(progress);
    await endChildren();
    await stage.close().catch(() => undefined);
    console.log(`${name}: ${seconds()}`);
  }
}
