import { spawnSync } from 'node:child_process';
import { HtmlValidate } from 'html-validate';
import { simpleParser } from 'mailparser';
import MailComposer from 'nodemailer/lib/mail-composer';
import { designs, languages, measureText, mergeFields, type WordingDocument } from '@convite/core';
import { mimeOf } from '../../mail/mime';
import type { EmailMessage, TextMessage } from '../../mail/message';
import { addPeople, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { eventComposer } from '../sending/compose-event';
import { contentIfSent } from '../sending/if-sent';
import { previewPerson } from '../sending/invite';
import { settle } from '../sending/settle';
import { corpus, textCorpus } from '../../testing/corpus';
import { shipped } from './shipped';

const fieldIn = (field: string): RegExp => new RegExp(String.raw`\{\{\s*${field}\s*[|}]`);

/**
 * Sixty wordings, ours and hostile, each in the design that is its turn, read by others: an HTML validator, a mail parser, and
 * Debian's spam filter.
 */
describe('sixty wordings', () => {
  let stage: Stage;
  let event: number;
  beforeAll(async () => {
    stage = await openStage();
    await addPeople(stage, languages.length);
    for (const [index, language] of languages.entries())
      await stage
        .db('subscriber')
        .where({ id: index + 1 })
        .update({ language, zone: 'America/Sao_Paulo' });
    event = await publishedEvent(stage, { title: 'Dome & <night>', venue: 'Hill "4"', description: 'Stars.\n\nMany.' });
  });
  afterAll(() => stage.close());

  const emails: readonly (readonly [string, WordingDocument])[] = [
    ...shipped.filter(({ channel }) => channel === 'email').map(({ key, wording }) => [key, wording] as const),
    ...Object.entries(corpus),
  ];
  const texts: readonly (readonly [string, WordingDocument])[] = [
    ...shipped.filter(({ channel }) => channel === 'text').map(({ key, wording }) => [key, wording] as const),
    ...Object.entries(textCorpus),
  ];

  async function compose(wording: WordingDocument, channel: 'email' | 'text', turn: number) {
    const stored = await stage.context.store.events.find(event);
    if (!stored) throw new Error('it is gone');
    const design = wording.design ?? designs[turn % designs.length];
    const atMs = stage.context.clock.now();
    const document = await settle(stage.context, { ...wording, design }, { eventId: event, atMs });
    const content = contentIfSent('cue', { document, version: stored.version.number }, atMs);
    const about = { channel, content, occurrence: '', guests: [], atMs };
    const person = await previewPerson(stage.context, event, (turn % languages.length) + 1);
    return eventComposer(stage.context, specSettings, stored, about)(person, 7);
  }
  const email = async (wording: WordingDocument, turn: number): Promise<EmailMessage> => {
    const message = await compose(wording, 'email', turn);
    if (message.kind !== 'email') throw new Error('it is no email');
    return message;
  };
  const octets = (message: EmailMessage): Promise<Buffer> => new MailComposer(mimeOf(message)).compile().build();

  it('are sixty', () => expect(emails.length + texts.length).toBeGreaterThanOrEqual(60));

  it('are valid HTML, as a validator reads it', async () => {
    const validator = new HtmlValidate({
      extends: ['html-validate:standard'],
      rules: {
        // Mail programs know no style sheets, and some only what HTML 4 had: mjml and we write what they read.
        ...{ 'no-inline-style': 'off', 'no-deprecated-attr': 'off', 'no-conditional-comment': 'off' },
        ...{ 'void-style': 'off', 'no-trailing-whitespace': 'off', 'attribute-boolean-style': 'off' },
      },
    });
    for (const [index, [name, wording]] of emails.entries()) {
      const { html } = await email(wording, index);
      const { results } = await validator.validateString(html);
      const found = results.flatMap(({ messages }) =>
        messages.map(({ ruleId, message, line, column }) => `${ruleId}: ${message} (${line}:${column})`),
      );
      expect(found).withContext(name).toEqual([]);
    }
  });

  it('say the same facts in HTML, in plain text and beside the subject; nothing is unfilled, nothing runs', async () => {
    for (const [index, [name, wording]] of emails.entries()) {
      const { html, text, subject } = await email(wording, index);
      const seen = html
        .replace(/<[^>]+>/g, ' ')

        .replaceAll('&lt;', '<')
        .replaceAll('&gt;', '>')
        .replaceAll('&quot;', '"')
        .replaceAll('&amp;', '&');
      for (const fact of ['Dome & <night>', 'Hill "4"'])
        if (text.includes(fact)) expect(seen).withContext(`${name}: ${fact}`).toContain(fact);
      const unfilled = Object.keys(mergeFields).filter(
        (field) => name !== 'every kind of block' && fieldIn(field).test(html + text + subject),
      );
      expect(unfilled).withContext(name).toEqual([]);
      expect(html)
        .withContext(name)
        .not.toMatch(/<script|<iframe|<form|<svg|javascript:|\son\w+=/i);
      expect(subject)
        .withContext(name)
        .not.toMatch(/[\r\n]/);
    }
  });

  it('are read again by a mail parser to the same words, with no header of the writer’s own', async () => {
    for (const [index, [name, wording]] of emails.entries()) {
      const message = await email(wording, index);
      const read = await simpleParser(await octets(message), { skipTextToHtml: true });
      const plain = (text: string): string => text.replace(/\r\n/g, '\n').trimEnd();
      expect(plain(read.text ?? ''))
        .withContext(name)
        .toBe(plain(message.text));
      expect(plain(String(read.html)))
        .withContext(name)
        .toBe(plain(message.html));
      expect(read.headers.has('bcc')).withContext(name).toBeFalse();
      expect(read.subject).withContext(name).toBe(message.subject);
    }
  });

  it('as texts say what they cost', async () => {
    for (const [index, [name, wording]] of texts.entries()) {
      const message = (await compose(wording, 'text', index)) as TextMessage;
      expect(message.kind).withContext(name).toBe('text');
      expect(message.text).withContext(name).not.toContain('{{');
      expect(measureText(message.text).parts).withContext(name).toBeLessThan(4);
    }
  });

  it('get no point of a spam filter for anything of their own making', async () => {
    if (spawnSync('spamassassin', ['--version']).status !== 0)
      return pending('Debian’s spamassassin is not installed here');
    const mails = await Promise.all(
      shipped
        .filter(({ channel }) => channel === 'email')
        .map(async ({ wording }, index) => octets(await email(wording, index))),
    );
    const mbox = mails
      .map(
        (mail) =>
          `From x@spec.example Sat Nov 28 00:00:00 2026\n${mail
            .toString('latin1')
            .replace(/\r\n/g, '\n')
            .replace(/^From /gm, '>From ')}\n`,
      )
      .join('\n');
    const { stdout } = spawnSync('spamassassin', ['-L', '-t', '--mbox'], {
      input: Buffer.from(mbox, 'latin1'),
      maxBuffer: 1e8,
    });
    const rules = [...stdout.toString('latin1').matchAll(/^ *(-?\d+\.\d) ([A-Z0-9_]+) +(.*)$/gm)].map(
      ([, points, rule, what]) => ({ points: Number(points), rule, what }),
    );
    expect(rules.length).toBeGreaterThan(mails.length);
    // How a message reached a machine is not of its making; it never left this one.
    const ofTheWay = /^(?:NO_R|ALL_TRUSTED|DATE_IN|DKIM|SPF|MISSING_DATE)/;
    expect(rules.filter(({ points, rule = '' }) => points > 0.5 && !ofTheWay.test(rule))).toEqual([]);
  }, 120_000);
});
