import { crc32, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { plainLook } from '@convite/contract';
import { letter, type Block } from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { saveSettings } from '../settings';
import { saveCue } from '../countdown/cues';
import { keepWording } from './kept-wordings';
import { addPicture, changePicture, findPicture, listPictures, usesOfPicture } from './pictures';
import { recodePicture } from './recode';

const drawn = (width: number, height: number, channels: 3 | 4 = 3) =>
  sharp({ create: { width, height, channels, background: { r: 74, g: 37, b: 69, alpha: 0.5 } } });

/** The header of a PNG file of that size (ISO/IEC 15948 §11.2.2), and one point of it. */
function pngOf(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer): Buffer => {
    const body = Buffer.concat([Buffer.from(type), data]);
    const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
    length.writeUInt32BE(data.length);
    sum.writeUInt32BE(crc32(body));
    return Buffer.concat([length, body, sum]);
  };
  const size = Buffer.alloc(13);
  size.writeUInt32BE(width, 0);
  size.writeUInt32BE(height, 4);
  size.set([8, 0, 0, 0, 0], 8);
  const begin = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    begin,
    chunk('IHDR', size),
    chunk('IDAT', deflateSync(Buffer.alloc(2))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

describe('a picture of the house', () => {
  it('is made as wide as mails show it, upright, without what a camera wrote beside it', async () => {
    // Lying on its side, as telephones write them, with a place and an owner.
    const photo = await drawn(3000, 2000)
      .withExif({ IFD0: { Artist: 'Marta Q.', Orientation: '6' }, IFD3: { GPSLatitude: '41/1 9/1 0/1' } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    const { octets, ...about } = await recodePicture(photo);
    expect(about).toEqual({ type: 'image/jpeg', width: 1200, height: 1800 });
    const { exif, orientation, format } = await sharp(octets).metadata();
    expect([exif, orientation, format]).toEqual([undefined, undefined, 'jpeg']);
    expect(octets.includes('Marta')).toBeFalse();
  });

  it('keeps what shines through as PNG, is never blown up, and takes WebP and the first of a GIF', async () => {
    expect(await recodePicture(await drawn(20, 10, 4).png().toBuffer())).toEqual(
      jasmine.objectContaining({ type: 'image/png', width: 20, height: 10 }),
    );
    for (const made of [drawn(40, 30).webp(), drawn(40, 30).gif()])
      expect((await recodePicture(await made.toBuffer())).width).toBe(40);
  });

  it('is refused in words where it is none, is cut off, holds a script, or unpacks to more than a house', async () => {
    const whole = await drawn(400, 400).jpeg().toBuffer();
    // 20,000 by 20,000 of nothing: some kilobytes that would be 1.6 GB.
    const bomb = await sharp({ create: { width: 16_000, height: 16_000, channels: 3, background: '#fff' } })
      .png({ compressionLevel: 9 })
      .toBuffer();
    for (const [file, words] of [
      [Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>1</script></svg>'), /no picture/],
      [Buffer.from(''), /no picture/],
      [whole.subarray(0, 300), /cannot be read/],
      [
        Buffer.concat([Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]), Buffer.alloc(64)]),
        /cannot be read/,
      ],
      [bomb, /too large/],
      // A column of 59 million points, which took three quarters of a minute to be made smaller.
      [pngOf(1, 59_000_000), /too large/],
      [pngOf(59_000_000, 1), /too large/],
    ] as const)
      await expectAsync(recodePicture(file)).toBeRejectedWithError(words);
  });

  describe('in messages', () => {
    let stage: Stage;
    beforeEach(async () => {
      stage = await openStage();
    });
    afterEach(() => stage.close());
    const photo = () => drawn(1600, 800).jpeg().toBuffer();

    it('is kept once, offered until it is set aside, and knows what shows it', async () => {
      const { context } = stage;
      const event = await publishedEvent(stage);
      const [first, again] = [
        await addPicture(context, await photo(), 'dome.jpg', actor),
        await addPicture(context, await photo(), 'dome (1).jpg', actor),
      ];
      expect(again.digest).toBe(first.digest);
      expect((await listPictures(context, false, null)).rows.map(({ name }) => name)).toEqual(['dome.jpg']);
      expect(await usesOfPicture(context, first.digest)).toEqual({
        cues: [],
        wordings: [],
        digests: [],
        isMark: false,
        hasMore: false,
      });
      const { digest, width, height } = first;
      const picture: Block = { kind: 'picture', digest, width, height, words: 'The dome' };
      const wording = letter('Look', 'See', picture);
      const id = await saveCue(context, event, null, { ...dayBeforeCue(), wording }, actor);
      const kept = { name: 'With a picture', purpose: 'other', channel: 'email', wording } as const;
      const key = await keepWording(context, null, kept, actor);
      const uses = await usesOfPicture(context, digest);
      expect([uses.cues, uses.wordings]).toEqual([
        [{ id, name: 'Tomorrow', eventId: event }],
        [{ key, name: 'With a picture' }],
      ]);
      await saveSettings(
        context,
        { ...specSettings, look: { ...plainLook, mark: { digest, width, height, words: '' } } },
        actor,
      );
      expect((await usesOfPicture(context, digest)).isMark).toBeTrue();
      // What no longer shows it is no use of it; what went out shows it all the same.
      await keepWording(context, key, { ...kept, wording: letter('Look', 'Nothing') }, actor);
      expect((await usesOfPicture(context, digest)).wordings).toEqual([]);
      await changePicture(context, digest, { words: 'The dome at night', isArchived: true });
      expect((await listPictures(context, false, null)).rows).toEqual([]);
      expect((await listPictures(context, true, null)).rows[0]?.words).toBe('The dome at night');
      expect((await findPicture(context, digest))?.type).toBe('image/jpeg');
      expect(await findPicture(context, `${digest.slice(1)}0`)).toBeNull();
    });

    it('arrives where it is found by its address, with its words for whoever does not see it', async () => {
      await addPeople(stage, 1);
      const event = await publishedEvent(stage);
      const { digest, width, height, url } = await addPicture(stage.context, await photo(), 'dome.jpg', actor);
      const picture: Block = { kind: 'picture', digest, width, height, words: 'The "dome"', link: 'https://a.example' };
      await saveCue(
        stage.context,
        event,
        null,
        { ...dayBeforeCue(), wording: letter('Look', 'See', picture, { ...picture, words: '', link: undefined }) },
        actor,
      );
      await invite(stage, event);
      await deliver(stage);
      await clockTo(stage, Date.UTC(2031, 5, 17, 18, 31));
      const mail = (await deliver(stage)).find(({ subject }) => subject === 'Look');
      expect(mail?.html).toContain(
        `<a href="https://a.example"><img src="${url}" width="552" height="276" alt="The &quot;dome&quot;"`,
      );
      expect(mail?.html.split('<img').length).toBe(3);
      expect(mail?.text).toContain('See\n\n[The "dome"] https://a.example\n\n-- ');
    });
  });
});
