import { sayProblem, type WatchFields, type WatchRow } from '@convite/contract';
import { fetchCalendar } from '../../net/fetch-calendar';
import type { StoredWatch } from '../../store/watches';
import { hideAddress } from '../hide-address';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { importCalendar, type CalendarFile } from './import-calendar';

export async function listWatches({ store }: Context): Promise<WatchRow[]> {
  return (await store.watches.all()).map(({ etag: _, lastModified: __, nextAt, lookedAt, ...watch }) => ({
    ...watch,
    nextAt: nextAt.toISOString(),
    lookedAt: lookedAt?.toISOString() ?? null,
  }));
}

/** Saves a watched calendar, new when `id` is null. It is looked at within moments. */
export async function saveWatch(context: Context, id: number | null, fields: WatchFields, actor: Actor): Promise<void> {
  const { store } = context;
  if (id !== null && !(await store.watches.find(id))) throw notFound('watched calendar');
  if (id === null) await store.watches.create(fields, nowOf(context));
  else await store.watches.update(id, fields, nowOf(context));
  await store.house.audit(nowOf(context), actor, 'calendar: watch saved', `${fields.name}, ${hideAddress(fields.url)}`);
  await store.live.touch('watches');
}

/** Its events stay; they are simply no longer kept up to date. */
export async function removeWatch(context: Context, id: number, actor: Actor): Promise<void> {
  const watch = await context.store.watches.find(id);
  if (!watch) throw notFound('watched calendar');
  await context.store.watches.remove(id);
  await context.store.house.audit(nowOf(context), actor, 'calendar: watch removed', watch.name);
  await context.store.live.touch('watches', 'board');
}

/** Looks at the first watched calendar that is due. False when none is. */
export async function lookAtNext(context: Context): Promise<boolean> {
  const watch = await context.store.watches.takeDue(nowOf(context));
  if (!watch) return false;
  await look(context, watch);
  return true;
}

async function look(context: Context, watch: StoredWatch): Promise<void> {
  const { store } = context;
  const { allowPrivateAddresses } = await store.house.settings();
  const fetched = await fetchCalendar(watch.url, { ...watch, allowPrivate: allowPrivateAddresses });
  const kept = { etag: watch.etag, lastModified: watch.lastModified };
  switch (fetched.kind) {
    case 'unchanged':
      await store.watches.setOutcome(
        watch.id,
        { ...kept, outcome: 'Nothing changed there.', isFailing: false },
        nowOf(context),
      );
      break;
    case 'failed':
      await store.watches.setOutcome(watch.id, { ...kept, outcome: fetched.reason, isFailing: true }, nowOf(context));
      break;
    case 'calendar': {
      const { outcome, isFailing } = await take(context, watch, fetched.file);
      const { etag, lastModified } = isFailing ? kept : fetched;
      await store.watches.setOutcome(watch.id, { etag, lastModified, outcome, isFailing }, nowOf(context));
    }
  }
  await store.live.touch('watches', 'board');
}

/** Of what was not understood, so much is named. */
const mostNamed = 3;

async function take(
  context: Context,
  watch: StoredWatch,
  file: CalendarFile,
): Promise<{ outcome: string; isFailing: boolean }> {
  const options = {
    leaveOut: new Set<number>(),
    takeGuests: watch.takesPeople,
    publish: watch.publish,
    watchId: watch.id,
    search: watch.search,
    people: watch.takesPeople ? { textConsent: watch.textConsent } : null,
    cuesOfEvent: watch.cuesOfEvent,
  };
  try {
    const { added, changed, same, guests, gone, problems } = await importCalendar(context, file, options, {
      name: watch.name,
    });
    const named = problems.slice(0, mostNamed).map((one) => `${one.path && `${one.path}: `}${sayProblem(one)}`);
    const faults = problems.length ? ` ${problems.length} not understood: ${named.join(' ')}` : '';
    const lost = gone
      ? ` ${gone} are not in it any more, and stay published here: cancel them where they do not take place.`
      : '';
    return {
      outcome: `${added} new, ${changed} changed, ${same} as before, ${guests} guests.${lost}${faults}`,
      isFailing: false,
    };
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
    const [problem] = error.more.problems ?? [];
    const why = problem ? ` ${problem.path && `${problem.path}: `}${sayProblem(problem)}` : '';
    return { outcome: `${error.message}${why}`, isFailing: true };
  }
}
