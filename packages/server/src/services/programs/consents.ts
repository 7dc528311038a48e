import * as z from 'zod';
import {
  rowOutcomes,
  type NoteConsents,
  type ProgramConsent,
  type RowOutcome,
  type RowOutcomes,
} from '@convite/contract';
import type { Problem } from '@convite/core';
import type { Known } from '../../store/known-people';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { digestOf, keyReused, said } from './subscribers';

/** The ledger, from behind one of its lines. */
export async function listConsents(
  { store }: Context,
  { after, limit, subscriber }: { readonly after: number; readonly limit: number; readonly subscriber?: number },
): Promise<{ rows: ProgramConsent[]; next: number | null }> {
  const found = await store.consents.ledger(after, limit + 1, subscriber);
  const rows = found.slice(0, limit).map((row) => ({ ...row, at: row.at.toISOString() }));
  return { rows, next: found.length > limit ? (rows.at(-1)?.id ?? null) : null };
}

/**
 * Takes down what people said to another system, each row for itself. A no always counts; a yes does not go over a no that they
 * said to us.
 * @param key the same for the same wish: asked again, what became of it is said again
 * @throws Failure 422 for a key that came with another wish
 */
export async function noteConsents(
  context: Context,
  asked: NoteConsents,
  actor: Actor,
  key: string | null,
): Promise<RowOutcomes> {
  const now = nowOf(context);
  return context.store.transact(async (tx) => {
    const digest = digestOf(asked);
    const before = key === null ? null : await tx.requests.take(key, now);
    if (before) return answered(before.answer, digest);
    const { ids, known } = await findAll(tx, asked);
    const results: RowOutcome[] = [];
    for (const [index, row] of asked.rows.entries()) {
      const id = row.subscriberId ?? ids.get((row.email ?? '').trim().toLowerCase()) ?? null;
      const person = known.get(id ?? 0);
      const problem = await whyNot(tx, row, person, now);
      if (problem || !person) {
        results.push({
          index,
          id: null,
          outcome: 'refused',
          problems: problem ? [said({ ...problem, facts: {} })] : [],
        });
        continue;
      }
      const origin = { source: 'api', how: row.how, by: actor.name } as const;
      await tx.consents.note(person.id, row.channel, row.isGiven, origin, new Date(row.at));
      results.push({ index, id: person.id, outcome: 'noted', problems: [] });
    }
    const noted = results.filter(({ outcome }) => outcome === 'noted').length;
    if (noted) {
      await tx.house.audit(now, actor, 'consents: noted', `${noted} of ${results.length}`);
      await tx.live.touch('subscribers', 'board');
    }
    if (key !== null) await tx.requests.keep(key, { digest, results });
    return { results };
  });
}

const kept = rowOutcomes.extend({ digest: z.string() });

function answered(answer: unknown, asked: string): RowOutcomes {
  const { digest, results } = kept.parse(answer);
  if (digest !== asked) throw keyReused();
  return { results };
}

async function findAll(
  tx: StoreSubjects,
  { rows }: NoteConsents,
): Promise<{ ids: Map<string, number>; known: Map<number, Known> }> {
  const emails = rows.flatMap(({ subscriberId, email }) =>
    subscriberId === undefined && email ? [email.trim().toLowerCase()] : [],
  );
  const byEmail = await tx.knownPeople.byKeys(emails, [], true);
  const ids = new Map([...byEmail].map(([email, { id }]) => [email, id]));
  const wanted = [...rows.flatMap(({ subscriberId }) => subscriberId ?? []), ...ids.values()];
  return { ids, known: await tx.knownPeople.byIds([...new Set(wanted)], true) };
}

async function whyNot(
  tx: StoreSubjects,
  { channel, isGiven, at }: NoteConsents['rows'][number],
  person: Known | undefined,
  now: Date,
): Promise<Problem | null> {
  if (!person) return { code: 'unknown-person', path: 'subscriberId' };
  if (new Date(at) > now) return { code: 'in-the-future', path: 'at' };
  if (!isGiven) return null;
  const saidNo = channel === 'email' ? person.optedOut : await tx.consents.hasRefusedTexts(person.id);
  return saidNo ? { code: 'said-no', path: 'isGiven' } : null;
}
