import { stopWords } from '@convite/core';
import { nowOf, type Context } from '../context';

/** Only the house's own word gives consent: "yes" answers many questions. */
const startWords = ['start', 'unstop'];

/** The gateway's word on what became of a text. */
export async function receiveReceipt(
  context: Context,
  receipt: { reference: string; status: 'delivered' | 'failed'; detail: string },
): Promise<void> {
  const id = Number(/^d(\d+)$/.exec(receipt.reference)?.[1] ?? 0);
  const { store } = context;
  if (!id || !(await store.deliveries.setAftermath(id, receipt.status, receipt.detail, nowOf(context)))) return;
  await store.live.touch('board');
}

/** A text from a person: STOP ends texts to that number at once, START allows them again. Anything else is left to people. */
export async function receiveText(context: Context, { from, text }: { from: string; text: string }): Promise<void> {
  const word = /^\W*(\w+)/.exec(text.toLowerCase())?.[1] ?? '';
  if (!stopWords.includes(word) && !startWords.includes(word)) return;
  const consents = startWords.includes(word);
  const said = { source: 'text', how: `wrote “${text.slice(0, 40)}”`, by: from } as const;
  await context.store.transact((tx) => tx.consents.noteTexts(from, consents, said, nowOf(context)));
  await context.store.house.audit(
    nowOf(context),
    'somebody by text',
    consents ? 'opt-out: texts taken up again' : 'opt-out: texts',
    `by text “${text.slice(0, 40)}”`,
  );
  await context.store.live.touch('subscribers');
}
