import type { Observable } from 'rxjs';
import type {
  AskedLinks,
  HouseBlock,
  OfferedWording,
  PicturePage,
  PictureRow,
  TestRequest,
  TestSent,
} from '@convite/contract';
import type { Channel, WordingDocument } from '@convite/core';

/** What the pieces that show and write messages ask of the house. A display piece knows no api: the shell provides one. */
export abstract class WordingSource {
  /** Do they answer? */
  abstract readonly askLinks: (addresses: readonly string[]) => Observable<AskedLinks>;
  /** What a message may begin from, by words of its name. */
  abstract readonly offered: (
    search: string,
    channel: Channel,
    ofEvent: boolean,
  ) => Observable<readonly OfferedWording[]>;
  /** Sends it at once to whoever tries it. */
  abstract readonly sendTest: (request: TestRequest) => Observable<TestSent>;
  /** Pictures of the house, the newest first. @param before where the page begins; null for the first */
  abstract readonly pictures: (before: number | null) => Observable<PicturePage>;
  abstract readonly addPicture: (file: File) => Observable<PictureRow>;
  /** Blocks of the house that stand in many messages. */
  abstract readonly houseBlocks: () => Observable<readonly HouseBlock[]>;
  /** Topics that people ask for. */
  abstract readonly topics: () => Observable<readonly string[]>;
  abstract readonly begin: (key: string, channel: Channel) => Observable<{ readonly wording: WordingDocument }>;
}
