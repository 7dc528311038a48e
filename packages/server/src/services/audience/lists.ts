import type { List, PersonField, SubscriberPage } from '@convite/contract';
import { isDuplicate } from '../../store/database';
import type { SubscriberQuery } from '../../store/subscribers';
import { nowOf, type Actor, type Context } from '../context';
import { Failure } from '../failure';

/** One page of people, those of a list or those searched for. */
export const findPeople = ({ store }: Context, query: SubscriberQuery): Promise<SubscriberPage> =>
  store.subscribers.page(query);

/** The further fields that people have. */
export const allFields = ({ store }: Context): Promise<PersonField[]> => store.fields.all();

export const allLists = ({ store }: Context): Promise<List[]> => store.lists.all();

/** Makes a list. @throws Failure 409 when there is one of that name */
export async function createList(context: Context, name: string, actor: Actor): Promise<number> {
  try {
    const id = await context.store.lists.create(name);
    await context.store.house.audit(nowOf(context), actor, 'list: created', name);
    return id;
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'list-exists', `There is a list “${name}” already.`);
    throw error;
  }
}
