import type { Subscriber } from '@convite/contract';
import { writeVcard } from '@convite/core';
import type { TextRows } from '../../files/table-file';
import { nowOf, type Actor, type Context } from '../context';

const atOnce = 1000;
export const peopleHeading = ['name', 'email', 'mobile', 'zone', 'text consent', 'state', 'lists'];

interface Chosen {
  readonly search: string;
  readonly list?: number | undefined;
}

/** Everybody, those of a list, or those searched for, as rows of text, piece by piece. */
export async function exportPeople(context: Context, chosen: Chosen, actor: Actor): Promise<TextRows> {
  await noteExport(context, chosen, actor);
  return rowsOf(context, chosen);
}

/** The same as an address book: a vCard for each (RFC 6350). */
export async function exportCards(context: Context, chosen: Chosen, actor: Actor): Promise<AsyncIterable<string>> {
  await noteExport(context, chosen, actor);
  const { sender } = await context.store.house.settings();
  return cardsOf(context, chosen, sender.email.split('@').at(-1) ?? '');
}

const noteExport = ({ store, clock }: Context, { search, list }: Chosen, actor: Actor): Promise<void> =>
  store.house.audit(
    nowOf({ clock }),
    actor,
    'export: people',
    list === undefined ? (search ? 'some, by a search' : 'everybody') : `list ${list}`,
  );

async function* rowsOf(context: Context, chosen: Chosen) {
  for await (const people of pagesOf(context, chosen))
    yield people.map((person) => [
      person.name,
      person.email,
      person.mobile,
      person.zone,
      person.textConsent ? 'yes' : 'no',
      person.state,
      person.lists.join('; '),
    ]);
}

async function* cardsOf(context: Context, chosen: Chosen, house: string) {
  for await (const people of pagesOf(context, chosen)) yield people.map((person) => writeVcard(person, house)).join('');
}

async function* pagesOf({ store }: Context, { search, list }: Chosen): AsyncGenerator<readonly Subscriber[]> {
  for (let after: number | null = 0; after !== null;) {
    const { rows, next } = await store.subscribers.page({ search, list, after, limit: atOnce });
    yield rows;
    after = next;
  }
}
