import { randomBytes } from 'node:crypto';
import { simpleParser } from 'mailparser';
import MailComposer from 'nodemailer/lib/mail-composer';
import sharp from 'sharp';
import { plainLook } from '@convite/contract';
import { letter } from '@convite/core';
import { mimeOf } from '../../mail/mime';
import type { EmailMessage } from '../../mail/message';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { addPicture } from '../wording/pictures';
import { saveSettings } from '../settings';
import { previewCue } from '../countdown/preview-cue';
import { sendInvitations } from './invite';
import { showMessage } from './show-message';

describe('pictures carried in a mail', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 2);
  });
  afterEach(() => stage.close());

  const add = async (
    width: number,
    raw = sharp({ create: { width, height: 40, channels: 3, background: '#4a2545' } }),
  ) => addPicture(stage.context, await raw.jpeg().toBuffer(), `${width}.jpg`, actor);
  const carry = (carriesPictures: boolean) =>
    saveSettings(stage.context, { ...specSettings, look: { ...plainLook, carriesPictures } }, actor);
  const blockOf = ({ digest, width, height }: { digest: string; width: number; height: number }) =>
    ({ kind: 'picture', digest, width, height, words: 'The dome' }) as const;
  const read = async (message: EmailMessage) =>
    simpleParser(await new MailComposer(mimeOf(message)).compile().build(), { keepCidLinks: true });

  it('are beside its HTML under the names that it gives them, once each; the calendar and its file stay what they are', async () => {
    await carry(true);
    const [dome, sky] = [await add(60), await add(80)];
    const wording = letter('Come', 'Look:', blockOf(dome), blockOf(sky), blockOf(dome));
    const event = await publishedEvent(stage);
    const request = { lists: [stage.list], channel: 'email', wording, confirmedCount: null } as const;
    await sendInvitations(stage.context, event, request, actor);
    const [mail] = await deliver(stage);
    if (!mail) throw new Error('nothing went');
    const { attachments, html } = await read(mail);
    const pictures = attachments.filter(({ contentType }) => contentType.startsWith('image/'));
    expect(pictures.map(({ related, contentType }) => [related, contentType])).toEqual([
      [true, 'image/jpeg'],
      [true, 'image/jpeg'],
    ]);
    for (const { cid = '' } of pictures) expect(html).toContain(`"cid:${cid}"`);
    expect(html).not.toContain('/picture/');
    expect(attachments.map(({ contentType }) => contentType)).toContain('application/ics');
    // Shown again on a screen they come from where they are kept.
    const [row] = await stage.db('delivery').orderBy('id').select('id');
    expect((await showMessage(stage.context, Number(row?.id))).html).toContain(`/picture/${dome.digest}`);
  });

  it('are fetched where the house does not carry them, and where they are too much to carry', async () => {
    const noise = sharp(randomBytes(900 * 900 * 3), { raw: { width: 900, height: 900, channels: 3 } });
    const [large, small] = [await add(900, noise), await add(60)];
    expect(large.octets).toBeGreaterThan(400_000);
    const cue = dayBeforeCue({ wording: letter('Come', 'Look:', blockOf(large), blockOf(small)) });
    const event = await publishedEvent(stage);
    const octets = async () => (await previewCue(stage.context, event, cue, 1)).message.octets;
    const bare = await octets();
    await carry(true);
    // Its size is said as it will be.
    expect(await octets()).toBeGreaterThan(bare + small.octets);
    expect(await octets()).toBeLessThan(bare + large.octets);
    await invite(stage, event);
    expect((await deliver(stage))[0]?.inline).toBeUndefined();
  });
});
