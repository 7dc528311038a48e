import type { Knex } from 'knex';
import type { Member, Role, TeamMember } from '@convite/contract';

/** A member with what is needed to let them in. */
export interface StoredMember extends Member {
  /** Empty for who was invited and has not set one yet: nothing fits it. */
  readonly passwordHash: string;
  /** Sealed; null without a second factor. */
  readonly totpSecret: string | null;
}

interface Row {
  id: number;
  email: string;
  name: string;
  role: Role;
  password_hash: string;
  totp_secret: string | null;
}

export type LinkPurpose = 'invitation' | 'reset';

/** Who may sign in, and by what. */
export function memberStore(db: Knex) {
  const one = async (where: Partial<Row>): Promise<StoredMember | null> => {
    const row: Row | undefined = await db('user').where(where).first();
    return row ? storedOf(row) : null;
  };
  return {
    byEmail: (email: string) => one({ email: email.toLowerCase() }),
    find: (id: number) => one({ id }),
    async all(): Promise<TeamMember[]> {
      const rows: Row[] = await db('user').orderBy('name');
      return rows.map((row) => ({
        ...memberOf(row),
        isInvited: row.password_hash === '',
        hasSecondFactor: row.totp_secret !== null,
      }));
    },
    /** @throws a duplicate-key error (see isDuplicate) for an address that is on the team already */
    async create(member: { name: string; email: string; role: Role; passwordHash: string }): Promise<number> {
      const { name, email, role, passwordHash } = member;
      const [id] = await db('user').insert({ name, email: email.toLowerCase(), role, password_hash: passwordHash });
      return Number(id);
    },
    async setRole(id: number, role: Role): Promise<void> {
      await db('user').where({ id }).update({ role });
    },
    async setPassword(id: number, passwordHash: string): Promise<void> {
      await db('user').where({ id }).update({ password_hash: passwordHash });
    },
    async remove(id: number): Promise<void> {
      await db('user').where({ id }).delete();
    },
    /** Holds the rows of all owners who can sign in: of two who go at once, the second sees that the first went. */
    async ownersForUpdate(): Promise<number[]> {
      return db('user').where({ role: 'owner' }).whereNot({ password_hash: '' }).forUpdate().pluck('id');
    },

    /** @param sealed null takes the second factor away, and its recovery codes */
    async setFactor(id: number, sealed: string | null, codeDigests: readonly string[]): Promise<void> {
      await db('user').where({ id }).update({ totp_secret: sealed, totp_step: 0 });
      await db('recovery_code').where({ user_id: id }).delete();
      if (codeDigests.length) await db('recovery_code').insert(codeDigests.map((digest) => ({ user_id: id, digest })));
    },
    /** Uses a half minute up. @returns false when it, or a later one, was used before */
    async useStep(id: number, step: number): Promise<boolean> {
      return (await db('user').where({ id }).where('totp_step', '<', step).update({ totp_step: step })) > 0;
    },
    async useRecoveryCode(id: number, digest: string): Promise<boolean> {
      return (await db('recovery_code').where({ user_id: id, digest }).delete()) > 0;
    },
    async countRecoveryCodes(id: number): Promise<number> {
      const rows: unknown[] = await db('recovery_code').where({ user_id: id }).pluck('digest');
      return rows.length;
    },

    /** One link of a purpose at a time: a newer one makes the older worthless. */
    async addLink(userId: number, purpose: LinkPurpose, digest: string, minutes: number): Promise<void> {
      await db('account_link').where({ user_id: userId, purpose }).delete();
      await db('account_link').insert({
        digest,
        user_id: userId,
        purpose,
        expires_at: db.raw('now(3) + interval ? minute', [minutes]),
      });
    },
    async findLink(digest: string): Promise<{ memberId: number; purpose: LinkPurpose } | null> {
      const row: { user_id: number; purpose: LinkPurpose } | undefined = await db('account_link')
        .where({ digest })
        .whereRaw('expires_at > now(3)')
        .first('user_id', 'purpose');
      return row ? { memberId: row.user_id, purpose: row.purpose } : null;
    },
    /** Uses a link up. @returns false when it was used before, or its time is over */
    async useLink(digest: string): Promise<boolean> {
      return (await db('account_link').where({ digest }).whereRaw('expires_at > now(3)').delete()) > 0;
    },
    async forgetLinks(): Promise<void> {
      await db('account_link').whereRaw('expires_at < now(3)').limit(5000).delete();
    },
    async removeLinks(userId: number): Promise<void> {
      await db('account_link').where({ user_id: userId }).delete();
    },
  };
}

const memberOf = ({ id, name, email, role }: Row): Member => ({ id, name, email, role });
const storedOf = (row: Row): StoredMember => ({
  ...memberOf(row),
  passwordHash: row.password_hash,
  totpSecret: row.totp_secret,
});
