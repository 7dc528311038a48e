import { isPlaceholderAddress } from '@convite/core';
import type { Trouble } from '@convite/contract';
import type { Part, Report } from '../store/troubles';
import type { Store } from '../store/store';

/** A clock further off the database's than this is told. */
const mostSkewMs = 2000;

/** Something that a process asks of what it depends on: null when it is well, else what is wrong. */
export interface Probe {
  readonly part: Part;
  ask(): Promise<string | null>;
}

/** Asks this process's own clock against the database's, by real time; half the way there and back is taken off. */
export const clockProbe = (store: Pick<Store, 'troubles'>, nowMs: () => number = Date.now): Probe => ({
  part: 'clock',
  async ask() {
    const before = nowMs();
    const theirs = await store.troubles.databaseNowMs();
    const after = nowMs();
    const skewMs = theirs - (before + after) / 2;
    if (Math.abs(skewMs) <= mostSkewMs + (after - before) / 2) return null;
    return `This machine's clock is ${(Math.abs(skewMs) / 1000).toFixed(1)} s ${skewMs > 0 ? 'behind' : 'ahead of'} the database's.`;
  },
});

const everyMs = 8000;

/**
 * Asks some probes again and again and writes down what they say, until stopped. What cannot be written down is told by
 * its silence.
 */
export function keepReporting(
  { troubles }: Pick<Store, 'troubles'>,
  reporter: string,
  probes: readonly Probe[],
  onFailure: (error: unknown) => void,
): { stop(): void } {
  const ask = async ({ part, ask: probe }: Probe): Promise<void> => {
    try {
      const wrong = await probe();
      await troubles.report(reporter, { part, isOk: wrong === null, text: wrong ?? '' });
    } catch (error) {
      onFailure(error);
    }
  };
  const askAll = (): void => probes.forEach((probe) => void ask(probe));
  askAll();
  const timer = setInterval(askAll, everyMs);
  return { stop: () => clearInterval(timer) };
}

const partWords: Readonly<Record<Part, string>> = {
  'mail-server': 'The mail server cannot be reached: email waits',
  'text-gateway': 'The text gateway cannot be reached: texts wait',
  inbound: 'Incoming mail is not taken: replies and bounces wait at their senders',
  clock: 'A clock is wrong',
  worker: 'Nothing goes out: no worker is running',
};

/** What Convite depends on and does not find, in words; empty when all is well. */
export async function readTroubles({
  troubles,
  leases,
  house,
}: Pick<Store, 'troubles' | 'leases' | 'house'>): Promise<Trouble[]> {
  const [reports, pauses, workers, { postalAddress, sender }] = await Promise.all([
    troubles.reports(),
    troubles.pauses(),
    leases.liveWorkers(),
    house.settings(),
  ]);
  const said: Trouble[] = pauses.map(({ channel, text, heldBy }) => ({
    part: 'pause',
    channel,
    text: heldBy
      ? `All ${channel === 'email' ? 'email' : 'texts'} held by ${heldBy}: nothing goes out`
      : `${channel === 'email' ? 'Email' : 'Texts'} paused: we are refused as the sender (${text})`,
  }));
  if (!postalAddress)
    said.push({ part: 'settings', channel: null, text: 'Nothing goes out: fill in the postal address in Settings' });
  if (isPlaceholderAddress(sender.email))
    said.push({ part: 'settings', channel: null, text: 'No email is sent: fill in the sender in Settings' });
  if (workers === 0) said.push({ part: 'worker', channel: null, text: partWords.worker });
  for (const [part, { text }] of worst(reports))
    said.push({ part, channel: null, text: `${partWords[part]}${text ? ` (${text.replace(/\.$/, '')})` : ''}` });
  return said;
}

/** One report for each part that somebody finds unwell. */
const worst = (reports: readonly Report[]): Map<Part, Report> =>
  new Map(reports.filter(({ isOk }) => !isOk).map((report) => [report.part, report]));
