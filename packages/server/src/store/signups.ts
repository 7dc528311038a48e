import type { Knex } from 'knex';
import * as z from 'zod';
import { signupFields, type SignupFields } from '@convite/contract';
import { readJson } from './database';
import { readEach, readOne } from './per-row';

export interface StoredSignupForm extends SignupFields {
  readonly id: number;
  readonly publicKey: string;
}

/** What somebody asked for on a form, until the owner of the address says that it was they. */
const asked = z.object({
  name: z.string(),
  mobile: z.string(),
  zone: z.string(),
  zoneFrom: z.string(),
  language: z.string(),
  topics: z.array(z.string()),
  /** The words that were agreed to; empty where that was not ticked. */
  emailWords: z.string(),
  textWords: z.string(),
});
export type AskedSignup = z.infer<typeof asked>;
export interface Signup extends AskedSignup {
  readonly id: number;
  readonly formId: number;
  readonly email: string;
  readonly isConfirmed: boolean;
}

interface FormRow {
  id: number;
  public_key: string;
  fields: unknown;
}

/** Forms by which people sign up, and what they asked for there. */
export function signupStore(db: Knex) {
  return {
    async forms(): Promise<StoredSignupForm[]> {
      const rows: FormRow[] = await db('signup_form').orderBy('id');
      return readEach(db, 'form', rows, formOf);
    },
    async form(id: number): Promise<StoredSignupForm | null> {
      const found: FormRow | undefined = await db('signup_form').where({ id }).first();
      return found ? readOne(db, 'form', found, formOf) : null;
    },
    async formForUpdate(id: number): Promise<StoredSignupForm | null> {
      const found: FormRow | undefined = await db('signup_form').where({ id }).forUpdate().first();
      return found ? readOne(db, 'form', found, formOf) : null;
    },
    async formByKey(publicKey: string): Promise<StoredSignupForm | null> {
      const found: FormRow | undefined = await db('signup_form').where({ public_key: publicKey }).first();
      return found ? readOne(db, 'form', found, formOf) : null;
    },
    async create(publicKey: string, fields: SignupFields, now: Date): Promise<number> {
      const [id] = await db('signup_form').insert({
        public_key: publicKey,
        fields: JSON.stringify(fields),
        created_at: now,
      });
      return Number(id);
    },
    async change(id: number, fields: SignupFields): Promise<void> {
      await db('signup_form')
        .where({ id })
        .update({ fields: JSON.stringify(fields) });
    },
    async ask(formId: number, email: string, what: AskedSignup, now: Date): Promise<number> {
      const [id] = await db('signup').insert({ form_id: formId, email, asked: JSON.stringify(what), asked_at: now });
      return Number(id);
    },
    async find(id: number): Promise<Signup | null> {
      const found:
        { id: number; form_id: number; email: string; asked: unknown; confirmed_at: Date | null } | undefined =
        await db('signup').where({ id }).first();
      return found
        ? {
            id: found.id,
            formId: found.form_id,
            email: found.email,
            isConfirmed: found.confirmed_at !== null,
            ...asked.parse(readJson(found.asked)),
          }
        : null;
    },
    /** @returns whether it was not confirmed before */
    async confirm(id: number, now: Date): Promise<boolean> {
      return (await db('signup').where({ id }).whereNull('confirmed_at').update({ confirmed_at: now })) > 0;
    },
    /** What nobody confirmed within two days, and what was confirmed, is nobody's business any more. */
    async forget(now: Date): Promise<void> {
      const before = new Date(now.getTime() - 2 * 86_400_000);
      await db('signup').where('asked_at', '<', before).limit(5000).delete();
      await db('address_change').where('asked_at', '<', before).limit(5000).delete();
    },
    /** What an address asked for, and what was asked for a person's, as they are erased. */
    async forgetPerson(subscriberId: number, email: string | null): Promise<void> {
      await db('address_change').where({ subscriber_id: subscriberId }).delete();
      if (email === null) return;
      await db('signup').where({ email }).delete();
      await db('address_change').where({ email }).delete();
    },
    async askAddress(subscriberId: number, email: string, now: Date): Promise<number> {
      await db('address_change').where({ subscriber_id: subscriberId }).delete();
      const [id] = await db('address_change').insert({ subscriber_id: subscriberId, email, asked_at: now });
      return Number(id);
    },
    async findAddress(id: number): Promise<AddressChange | null> {
      const found: AddressRow | undefined = await db('address_change').where({ id }).first();
      return found ? addressOf(found) : null;
    },
    /** One end says yes. To be called in a transaction. @returns how it stands then */
    async agreeAddress(id: number, end: 'old' | 'new'): Promise<AddressChange | null> {
      const held: AddressRow | undefined = await db('address_change').where({ id }).forUpdate().first();
      if (!held) return null;
      await db('address_change')
        .where({ id })
        .update(end === 'old' ? { old_agrees: true } : { new_agrees: true });
      return { ...addressOf(held), ...(end === 'old' ? { oldAgrees: true } : { newAgrees: true }) };
    },
    async removeAddress(id: number): Promise<void> {
      await db('address_change').where({ id }).delete();
    },
  };
}

export interface AddressChange {
  readonly id: number;
  readonly subscriberId: number;
  readonly email: string;
  readonly oldAgrees: boolean;
  readonly newAgrees: boolean;
}
interface AddressRow {
  id: number;
  subscriber_id: number;
  email: string;
  old_agrees: number;
  new_agrees: number;
}
const addressOf = (row: AddressRow): AddressChange => ({
  id: row.id,
  subscriberId: row.subscriber_id,
  email: row.email,
  oldAgrees: Boolean(row.old_agrees),
  newAgrees: Boolean(row.new_agrees),
});
const formOf = (row: FormRow): StoredSignupForm => ({
  id: row.id,
  publicKey: row.public_key,
  ...signupFields.parse(readJson(row.fields)),
});
