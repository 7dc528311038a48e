import { countdownRows } from './bench-countdown';
import { calendarRows, type Row } from './bench-calendars';
import { peopleRows } from './bench-people';
import { sendingRows } from './bench-sending';
import { openStage, type Stage } from './stage';

const parts: Readonly<Record<string, (stage: Stage) => Promise<Row[]>>> = {
  sending: sendingRows,
  countdown: countdownRows,
  calendars: calendarRows,
  people: peopleRows,
};

/** All parts, or those that are named. */
const wanted = process.argv.slice(2);
const unknown = wanted.filter((name) => !(name in parts));
if (unknown.length > 0) {
  console.error(`There is no part “${unknown.join('”, “')}”; there are ${Object.keys(parts).join(', ')}.`);
  process.exit(2);
}
const stage = await openStage();
const rows: Row[] = [];
for (const [name, measure] of Object.entries(parts))
  if (wanted.length === 0 || wanted.includes(name)) rows.push(...(await measure(stage)));
await stage.close();
console.table(rows);
process.exit(0);
