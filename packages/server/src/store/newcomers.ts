import type { Knex } from 'knex';
import { consentStore, type ConsentOrigin } from './consents';
import { erasureStore } from './erasures';
import { fieldStore } from './fields';
import { listStore } from './lists';
import { saidStore } from './said';

/** What somebody says of one person. Of known people it fills in what is empty, and changes nothing else. */
export interface NewSubscriber {
  readonly email: string | null;
  readonly name: string;
  readonly mobile: string;
  readonly zone: string;
  /** That they read; empty or absent where nothing is said of it. */
  readonly language?: string | undefined;
  readonly textConsent: boolean | null;
  /** False for whom nobody said that they agreed to be written to; looked at of new people alone. */
  readonly emailConsent?: boolean;
  /** Further columns of the file, by their names. */
  readonly fields?: Readonly<Record<string, string>>;
}

/** People who come, by a file, a form or a program: in a few statements, whoever they are. */
export function newcomerStore(db: Knex) {
  /** New people go in; of known ones what is empty is filled in: whoever names an address may not be its owner. */
  const writePeople = async (people: readonly NewSubscriber[], now: Date): Promise<void> => {
    await db('subscriber')
      .insert(
        people.map(({ email, name, mobile, zone, language = '', emailConsent = true }) => ({
          email,
          name,
          mobile,
          zone,
          language,
          email_consent: emailConsent,
          created_at: now,
        })),
      )
      .onConflict('email')
      .merge({
        name: db.raw("if(name = '', values(name), name)"),
        mobile: db.raw("if(mobile = '', values(mobile), mobile)"),
        zone: db.raw("if(zone = '', values(zone), zone)"),
        language: db.raw("if(language = '', values(language), language)"),
      });
  };

  /** Who asked to be forgotten comes back by themselves alone, whatever others hand in. */
  const whoMayCome = async (
    people: readonly NewSubscriber[],
    { source }: ConsentOrigin,
  ): Promise<readonly NewSubscriber[]> => {
    const erasures = erasureStore(db);
    const keys = people.flatMap(({ email, mobile }) => [email ?? '', mobile]);
    if (source === 'form') {
      await erasures.welcomeBack(keys);
      return people;
    }
    const forgotten = await erasures.forgottenAmong(keys);
    return forgotten.size ? people.filter(({ email, mobile }) => !forgotten.has(email ?? mobile)) : people;
  };

  /** What a file said of people beside the known columns. */
  const writeFields = async (people: readonly NewSubscriber[], ids: ReadonlyMap<string, number>): Promise<void> => {
    const fields = fieldStore(db);
    const columns = new Map<string, string[]>();
    for (const [name, typed] of people.flatMap((person) => Object.entries(person.fields ?? {}))) {
      const values = columns.get(name) ?? [];
      values.push(typed);
      columns.set(name, values);
    }
    const known = await fields.ensure(columns);
    if (known.size === 0) return;
    await fields.write(
      people.flatMap((person) => {
        const subscriberId = ids.get(person.email ?? person.mobile);
        return subscriberId === undefined
          ? []
          : Object.entries(person.fields ?? {}).flatMap(([name, typed]) => {
              const field = known.get(name.slice(0, 60).trim().toLowerCase());
              return field && typed ? [{ subscriberId, field, typed }] : [];
            });
      }),
    );
  };

  return {
    /**
     * Adds some people to a list, new ones to the subscribers too, in a few statements.
     * @returns who joined the list, and whether they became subscribers by it; the others were on it already
     */
    async addToList(
      listId: number,
      people: readonly NewSubscriber[],
      origin: ConsentOrigin,
      now: Date,
    ): Promise<{ subscriberId: number; isNewPerson: boolean }[]> {
      const known = new Set((await this.idsOf(people)).values());
      const ids = [...new Set((await this.ensureMany(people, origin, now)).values())];
      if (ids.length === 0) return [];
      const joining = await listStore(db).join(listId, ids, now);
      return joining.map((id) => ({ subscriberId: id, isNewPerson: !known.has(id) }));
    },

    /** People whom nobody knew a moment ago, with what they agreed to, of which the ledger is told beside. @returns their ids by address, or by number of who has no address */
    async addFresh(
      people: readonly (NewSubscriber & {
        readonly phone: string;
        readonly zoneFrom: string;
        readonly emailConsent: boolean;
      })[],
      now: Date,
    ): Promise<Map<string, number>> {
      if (people.length === 0) return new Map();
      await db('subscriber')
        .insert(
          people.map((one) => ({
            email: one.email,
            name: one.name,
            mobile: one.mobile,
            phone: one.phone,
            zone: one.zone,
            zone_from: one.zoneFrom,
            language: one.language ?? '',
            email_consent: one.emailConsent,
            text_consent: one.textConsent === true,
            created_at: now,
          })),
        )
        .onConflict('email')
        .ignore();
      // By the index alone; who has no address is looked for by number.
      const rows: { id: number; email: string }[] = await db('subscriber')
        .whereIn(
          'email',
          people.flatMap(({ email }) => email ?? []),
        )
        .select('id', 'email');
      const withoutEmail = people.filter(({ email }) => email === null);
      const byNumber = withoutEmail.length ? await this.idsOf(withoutEmail) : new Map<string, number>();
      return new Map([...byNumber, ...rows.map(({ id, email }) => [email, id] as const)]);
    },
    /** Takes people out whom nobody has had to do with. */
    async remove(ids: readonly number[]): Promise<void> {
      if (ids.length === 0) return;
      await saidStore(db).forget(ids);
      await db('subscriber')
        .whereIn('id', [...ids])
        .delete();
    },

    /**
     * The subscriber of that address, made when there is none; what is known is filled in, never taken away.
     * @returns 0 for who asked to be forgotten, and did not come by themselves
     */
    async ensure(person: NewSubscriber, origin: ConsentOrigin, now: Date): Promise<number> {
      return (await this.ensureMany([person], origin, now)).get(person.email ?? person.mobile) ?? 0;
    },

    /** Ids of those of some people who are known, by address, or by number for those without one. */
    async idsOf(people: readonly NewSubscriber[]): Promise<Map<string, number>> {
      const emails = people.flatMap(({ email }) => email ?? []);
      const numbers = people.flatMap(({ email, mobile }) => (email === null && mobile ? [mobile] : []));
      const rows: { id: number; email: string | null; mobile: string }[] = await db('subscriber')
        .whereIn('email', emails)
        .modify(
          (query) => void (numbers.length && query.orWhere((or) => or.whereNull('email').whereIn('mobile', numbers))),
        )
        .select('id', 'email', 'mobile');
      return new Map(rows.map(({ id, email, mobile }) => [email ?? mobile, id]));
    },

    /** The same for many, who become subscribers where they are none; who asked to be forgotten is left out. @param origin of the consent that they bring along */
    async ensureMany(people: readonly NewSubscriber[], origin: ConsentOrigin, now: Date): Promise<Map<string, number>> {
      const ids = new Map<string, number>();
      for (let from = 0; from < people.length; from += 1000) {
        const some = await whoMayCome(people.slice(from, from + 1000), origin);
        const known = await this.idsOf(some);
        const fresh = [...new Map(some.map((person) => [person.email ?? person.mobile, person])).values()];
        const writable = fresh.filter(({ email, mobile }) => email !== null || !known.has(mobile));
        await consentStore(db).endForNewNumbers(
          writable.flatMap(({ email, mobile }) => (mobile && email !== null ? (known.get(email) ?? []) : [])),
          now,
        );
        if (writable.length) await writePeople(writable, now);
        const found = await this.idsOf(some);
        for (const [key, id] of found) ids.set(key, id);
        await writeFields(fresh, found);
        const consenting = fresh.flatMap(({ email, mobile, textConsent }) =>
          textConsent ? (found.get(email ?? mobile) ?? []) : [],
        );
        await consentStore(db).grantTexts(consenting, origin, now);
      }
      return ids;
    },
  };
}
