import type { Knex } from 'knex';

/** Where what is kept of people stands by their number, and what it is called where people read it. */
const places = [
  { section: 'fields', table: 'subscriber_field' },
  { section: 'topics', table: 'subscriber_topic' },
  { section: 'consents', table: 'consent' },
  { section: 'invitations', table: 'invitee' },
  { section: 'dates', table: 'invitee_occurrence' },
  { section: 'registrations', table: 'registration' },
  { section: 'ownTimes', table: 'personal' },
  { section: 'proposals', table: 'proposal' },
  { section: 'letters', table: 'letter' },
  { section: 'news', table: 'news' },
  { section: 'refusals', table: 'refusal' },
  { section: 'imports', table: 'people_import_row' },
  { section: 'notes', table: 'person_note' },
  { section: 'pagesOpened', table: 'page_opened' },
  { section: 'linksPressed', table: 'link_pressed' },
] as const;
export type HeldSection = (typeof places)[number]['section'];

/** What is kept of one person, as it is kept: rows by what they are about. */
export function heldStore(db: Knex) {
  return {
    /** Null for nobody, and for who is erased. */
    async of(id: number): Promise<Readonly<Record<'person' | 'lists' | HeldSection, readonly object[]>> | null> {
      const person: object | undefined = await db('subscriber')
        .where({ id })
        .whereNull('erased_at')
        .first(
          'id',
          'email',
          'name',
          'mobile',
          'phone',
          'zone',
          'zone_from',
          'language',
          'email_consent',
          'text_consent',
          'opted_out_at',
          'paused_until',
          'most_per_week',
          'minds_noting',
          'bounced_at',
          'created_at',
        );
      if (!person) return null;
      // With them whoever they were found to be.
      const absorbed: number[] = await db('subscriber').where({ same_as_id: id }).pluck('id');
      const ids = [id, ...absorbed];
      const others: object[] = absorbed.length
        ? await db('subscriber').whereIn('id', absorbed).select('id', 'email', 'name', 'mobile', 'phone', 'created_at')
        : [];
      const lists: object[] = await db('list_member as m')
        .join('list as l', 'l.id', 'm.list_id')
        .where('m.subscriber_id', id)
        .select('l.id', 'l.name');
      const rows = new Map<HeldSection, readonly object[]>();
      for (const { section, table } of places) rows.set(section, await db(table).whereIn('subscriber_id', ids));
      const of = (section: HeldSection): readonly object[] => rows.get(section) ?? [];
      return {
        person: [person, ...others],
        lists,
        fields: of('fields'),
        topics: of('topics'),
        consents: of('consents'),
        invitations: of('invitations'),
        dates: of('dates'),
        registrations: of('registrations'),
        ownTimes: of('ownTimes'),
        proposals: of('proposals'),
        letters: of('letters'),
        news: of('news'),
        pagesOpened: of('pagesOpened'),
        linksPressed: of('linksPressed'),
        refusals: of('refusals'),
        imports: of('imports'),
        notes: of('notes'),
      };
    },
  };
}
