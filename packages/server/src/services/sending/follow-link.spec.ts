import { plainDocument, type Block } from '@convite/core';
import type { TextMessage } from '../../mail/message';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  openStage,
  publishedEvent,
  scriptedEnd,
  specSettings,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { saveSettings } from '../settings';
import { followCounted, followShort, linksOfFiring } from './follow-link';
import { noteOpenPicture } from './open-picture';
import { showMessage } from './show-message';

const person = { agent: 'Mozilla/5.0 (X11; Linux)', onlyLooks: false };
const program = { agent: 'LinkCheck/2.0', onlyLooks: false };

describe('links of our own', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
    event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
  });
  afterEach(() => stage.close());

  const link = (text: string, to: string): Block => ({ kind: 'paragraph', line: [{ kind: 'text', text, link: to }] });
  /** With what would leave an attribute. */
  const map = 'https://map.example/?a=1&b="2>';
  const blocks: Block[] = [
    link('the map', map),
    { kind: 'button', label: 'Read', address: { kind: 'text', text: 'https://read.example/' } },
    { kind: 'reply' },
  ];
  const count = async (countsLinks: 'by-person' | 'by-message') =>
    saveSettings(stage.context, { ...specSettings, countsLinks }, actor);
  /** Messages of a cue so many hours before the event. */
  const gone = async (hours = 24) => {
    const moment = {
      kind: 'relative',
      amount: hours,
      unit: 'hours',
      direction: 'before',
      anchor: 'start',
      at: null,
    } as const;
    const cue = { ...dayBeforeCue({ moment }), wording: { subject: `In ${hours}`, blocks } };
    await saveCue(stage.context, event, null, cue, actor);
    const firings = (await stage.context.store.firings.ofEvent(event)).filter(({ kind }) => kind === 'cue');
    const firing = firings.reduce((last, one) => (one.id > last.id ? one : last));
    await clockTo(stage, firing.dueMs + 1000);
    return { mails: await deliver(stage), firing: firing.id };
  };
  const tokens = (text: string): string[] => [...text.matchAll(/\/l\/([\w.-]+)/g)].map(([, token = '']) => token);
  const linksOf = async (firing: number) => (await linksOfFiring(stage.context, firing)).links;
  const follow = (token: string, visitor = person) => followCounted(stage.context, token, visitor);

  it('are none where the house does not count, nor of who minds', async () => {
    const { mails } = await gone();
    expect(mails.map(({ text }) => tokens(text).length)).toEqual([0, 0, 0]);
    await count('by-person');
    await stage.db('subscriber').where({ id: 2 }).update({ minds_noting: true });
    const again = (await gone(2)).mails;
    expect(again.length).toBe(3);
    for (const { to, text } of again) expect(tokens(text).length).toBe(to.address.startsWith('p2') ? 0 : 2);
    // Its address stands in the mail as it was typed, and as an address alone.
    const minding = again.find(({ to }) => to.address.startsWith('p2'));
    expect(minding?.html).toContain('href="https://map.example/?a=1&amp;b=&quot;2&gt;"');
    expect(minding?.text).toContain(map);
  });

  it('count typed links of each person, lead where they led, and are shown again as they went', async () => {
    await count('by-person');
    const { mails, firing } = await gone();
    const [first, second] = mails.map(({ text }) => tokens(text));
    expect(mails[0]?.html).not.toContain('map.example');
    // What leads to the reader's own pages is counted by nobody.
    expect(mails[0]?.text).toContain('/r/');
    expect(await follow(first?.[0] ?? '')).toBe(map);
    expect(await follow(first?.[0] ?? '')).toBe(map);
    await clockTo(stage, stage.clock.now() + 5000);
    expect(await follow(second?.[0] ?? '')).toBe(map);
    expect(await linksOf(firing)).toEqual([
      { url: map, presses: 3, people: 2, byPrograms: 0 },
      { url: 'https://read.example/', presses: 0, people: 0, byPrograms: 0 },
    ]);
    const [row] = await stage.db('delivery').where({ firing_id: firing }).orderBy('id').select('id');
    expect((await showMessage(stage.context, Number(row?.id))).text).toBe(mails[0]?.text ?? '');
  });

  it('take whoever presses all of them within two seconds for a program, and what they pressed back', async () => {
    await count('by-person');
    const { mails, firing } = await gone();
    const [map1 = '', read1 = ''] = tokens(mails[0]?.text ?? '');
    await follow(map1);
    await follow(read1);
    const [, read2 = ''] = tokens(mails[1]?.text ?? '');
    await follow(read2, program);
    await followCounted(stage.context, read2, { ...person, onlyLooks: true });
    expect(await linksOf(firing)).toEqual([
      { url: map, presses: 0, people: 0, byPrograms: 1 },
      { url: 'https://read.example/', presses: 0, people: 0, byPrograms: 3 },
    ]);
    // Later it is somebody.
    await clockTo(stage, stage.clock.now() + 60_000);
    await follow(read1);
    expect((await linksOf(firing))[1]).toEqual(jasmine.objectContaining({ presses: 1, people: 1 }));
  });

  it('count by message without knowing whose it was', async () => {
    await count('by-message');
    const { mails, firing } = await gone();
    const all = mails.map(({ text }) => tokens(text).join(' '));
    expect(new Set(all).size).toBe(1);
    const [token = ''] = tokens(mails[0]?.text ?? '');
    expect(await follow(token)).toBe(map);
    expect((await linksOf(firing))[0]).toEqual({ url: map, presses: 1, people: 0, byPrograms: 0 });
    expect(await stage.db('link_pressed').count({ n: '*' }).first()).toEqual({ n: 0 });
  });

  it('are opened emails, by a picture that nobody sees, only where the house counts them and nobody minds', async () => {
    const pictureIn = (html: string): string => /\/o\/([\w.-]+)"/.exec(html)?.[1] ?? '';
    const { mails: plain } = await gone();
    expect(plain.map(({ html }) => pictureIn(html))).toEqual(['', '', '']);
    await saveSettings(stage.context, { ...specSettings, countsOpens: true, countsLinks: 'by-person' }, actor);
    await stage.db('subscriber').where({ id: 2 }).update({ minds_noting: true });
    const { mails, firing } = await gone(2);
    const [first = '', second = '', third = ''] = mails.map(({ html }) => pictureIn(html));
    expect([second, [first, third].every(Boolean)]).toEqual(['', true]);
    const ask = (token: string, visitor = person) => noteOpenPicture(stage.context, token, visitor);
    await ask(first);
    await ask(first);
    await ask(third, program);
    for (const bad of ['', 'x', `${first}x`, first.replace(/^\d+/, '99')]) await ask(bad);
    const { opened } = await linksOfFiring(stage.context, firing);
    expect(opened).toEqual({ presses: 2, people: 1, byPrograms: 1 });
    // Whoever opens a mail and presses a link at once is no program.
    await follow(tokens(mails[0]?.text ?? '')[0] ?? '');
    expect((await linksOf(firing))[0]).toEqual(jasmine.objectContaining({ presses: 1, byPrograms: 0 }));
    // A member who looks at it is not taken for its reader.
    const [row] = await stage.db('delivery').where({ firing_id: firing }).orderBy('id').select('id');
    expect(pictureIn((await showMessage(stage.context, Number(row?.id))).html)).toBe('');
  });

  it('lead where they led and are counted as such, when what the house says changed while it went out', async () => {
    await count('by-message');
    const { mails, firing } = await gone();
    const [, read = ''] = tokens(mails[0]?.text ?? '');
    const [part] = await stage.context.store.said.allForAll(firing);
    if (!part) throw new Error('nothing was said');
    const document = { ...part.content.document, blocks: [link('new', 'https://new.example/'), ...blocks] };
    await stage.context.store.said.keepForAll(firing, { ...part, content: { ...part.content, document } });
    expect(await follow(read)).toBe('https://read.example/');
    expect((await linksOf(firing)).map(({ url, presses }) => [url, presses])).toEqual([
      [map, 0],
      ['https://read.example/', 1],
      ['https://new.example/', 0],
    ]);
  });

  it('lead nowhere else: forged, of another purpose, or of a message that is kept no longer', async () => {
    await count('by-person');
    const { mails } = await gone();
    const [token = ''] = tokens(mails[0]?.text ?? '');
    const forged = [
      token.replace(/^p/, 'm'),
      `${token}0`,
      token.slice(1),
      'p1.0-000000000000000000000000',
      '',
      '../..',
    ];
    for (const one of forged)
      expect(await follow(one))
        .withContext(one)
        .toBeNull();
    await stage.db('said').delete();
    expect(await follow(token)).toBeNull();
    for (const one of ['', 'x', '1.0-aaaaaaaa', `${'1'.repeat(40)}.0-aaaaaaaa`])
      expect(await followShort(stage.context, one))
        .withContext(one)
        .toBeNull();
  });

  it('in texts are short, lead where the long ones do, and are shown again as they went', async () => {
    await stage.db('subscriber').update({ text_consent: true, mobile: stage.db.raw("concat('+35191000000', id)") });
    const text = 'Where: {{event.place}}. Say so: {{link.reply}} or STOP: {{link.optOut}}';
    await saveCue(
      stage.context,
      event,
      null,
      { ...dayBeforeCue(), channel: 'text', wording: plainDocument('', text) },
      actor,
    );
    const [firing] = (await stage.context.store.firings.ofEvent(event)).filter(({ kind }) => kind === 'cue');
    await clockTo(stage, (firing?.dueMs ?? 0) + 1000);
    const end = scriptedEnd<TextMessage>();
    const worker = await workOn(stage, { text: end });
    await untilSettled(stage);
    await worker.stop();
    const [sent] = end.taken;
    const short = [...(sent?.text ?? '').matchAll(/\/k\/(\S+)/g)].map(([, token = '']) => token);
    expect(short.length).toBe(2);
    expect(sent?.text.length).toBeLessThan(160);
    expect(await followShort(stage.context, short[0] ?? '')).toMatch(/\/r\/[\w.-]+$/);
    expect(await followShort(stage.context, short[1] ?? '')).toMatch(/\/opt-out\//);
    const [row] = await stage.db('delivery').where({ channel: 'text' }).orderBy('id').select('id');
    expect((await showMessage(stage.context, Number(row?.id))).text).toBe(sent?.text ?? '');
  });
});
