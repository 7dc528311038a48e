import type { TextRows } from '../../files/table-file';
import { nowOf, type Actor, type Context } from '../context';

const atOnce = 1000;
export const peopleHeading = ['name', 'email', 'mobile', 'zone', 'text consent', 'state', 'lists'];

/** Everybody, those of a list, or those searched for, as rows of text, piece by piece. */
export async function exportPeople(
  context: Context,
  { search, list }: { readonly search: string; readonly list?: number | undefined },
  actor: Actor,
): Promise<TextRows> {
  const { store } = context;
  await store.house.audit(
    nowOf(context),
    actor,
    'export: people',
    list === undefined ? search || 'everybody' : `list ${list}`,
  );
  async function* pages() {
    for (let after: number | null = 0; after !== null;) {
      const { rows, next } = await store.subscribers.page({ search, list, after, limit: atOnce });
      yield rows.map((person) => [
        person.name,
        person.email,
        person.mobile,
        person.zone,
        person.textConsent ? 'yes' : 'no',
        person.state,
        person.lists.join('; '),
      ]);
      after = next;
    }
  }
  return pages();
}
