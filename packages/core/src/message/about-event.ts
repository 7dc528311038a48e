import { blockWords, type BlockWords } from './block-words';
import { sayWhen, type WhenFacts } from './fields';
import { anyReader, type Reader } from './only';

/** What blocks say beside their fields. */
export interface AboutEvent {
  readonly words: BlockWords;
  /** Web calendars, each with its link for the reader. */
  readonly calendars: readonly { readonly name: string; readonly url: string }[];
  /** Where a picture of the house is. */
  readonly pictureUrl: (digest: string) => string;
  /** Of whom blocks ask that are only for some. */
  readonly reader: Reader;
  /** What the reader put themselves down for; null for nothing. */
  readonly places: Places | null;
  /** When something is, as the reader is told. */
  readonly whenOf: (facts: WhenFacts) => string;
}

export interface Places {
  readonly count: number;
  /** Each in words. */
  readonly dates: readonly string[];
  /** By which the door finds it; empty for none. */
  readonly reference: string;
}

export const aboutNothing: AboutEvent = {
  ...{ words: blockWords.en, calendars: [], pictureUrl: () => '', reader: anyReader, places: null },
  whenOf: (facts) => sayWhen(facts, ''),
};
