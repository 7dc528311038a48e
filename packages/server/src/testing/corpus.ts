import { languages, letter, plainDocument, type Block, type LeafBlock, type WordingDocument } from '@convite/core';

const line = (text: string): LeafBlock => ({ kind: 'paragraph', line: [{ kind: 'text', text }] });
const event: Block = { kind: 'event' };
const reply: Block = { kind: 'reply' };

/** What people write, and what they should not be able to do with it; invented. */
const written: Readonly<Record<string, WordingDocument>> = {
  'a script in words': letter('<script>alert(1)</script>', '<script>alert(1)</script> & <b>{{event.title}}</b>', event),
  'a header in the subject': letter('Hello\r\nBcc: all@people.example\r\n\r\n<p>body', 'See you.', event),
  'a field that was not closed': letter('{{event.title', 'Dear {{person.firstName', event),
  'a field that is none': letter('{{event.tilte}}', '{{constructor}} {{__proto__}} {{x|y}}', event),
  'a long paste': letter('Everything', 'words and words and words. '.repeat(700), event),
  'one word without end': letter('W'.repeat(200), 'w'.repeat(5000), event),
  'right to left': letter('ليلة القبة المفتوحة {{event.title}}', 'مرحبا {{person.firstName}}، نراكم.', event, reply),
  'mixed directions': letter('שלום Ana', '\u202Eevil\u202C and שלום, {{event.when}}', event),
  emoji: letter('🌒🔭 {{event.title}} 👩‍🚀', 'Bring 🧥🧣, and 👨‍👩‍👧‍👦!', event, reply),
  'quotes and ampersands': letter('"Stars" & ‘planets’ <3', 'Tom & Jerry\'s "night" <= 3 > 2', event),
  'control characters': letter('a\u0000b\u0007c', 'x\u0000y\u0008z\u001b[0m', event),
  'nothing but a picture': {
    subject: 'Look',
    blocks: [{ kind: 'picture', digest: 'a'.repeat(40), width: 1200, height: 560, words: 'A dome & "stars"' }, event],
  },
  'a picture without words': {
    subject: 'Look',
    blocks: [{ kind: 'picture', digest: 'b'.repeat(40), width: 20, height: 10, words: '' }, event],
  },
  'every kind of block': {
    subject: 'All of it: {{event.title}}',
    preheader: '{{event.inDays}}: {{event.longDate}}',
    design: 'bulletin',
    blocks: [
      { kind: 'opening', tone: 'warm' },
      { kind: 'heading', line: [{ kind: 'text', text: 'Heading' }] },
      { kind: 'list', items: [[{ kind: 'text', text: 'one', bold: true }], [{ kind: 'text', text: 'two' }]] },
      { kind: 'list', isNumbered: true, items: [[{ kind: 'field', field: 'event.clock', fallback: '' }]] },
      { kind: 'quote', line: [{ kind: 'text', text: 'said' }, { kind: 'break' }, { kind: 'text', text: 'so' }] },
      { kind: 'divider' },
      {
        kind: 'columns',
        columns: [
          [line('left'), { kind: 'button', label: 'Map', address: { kind: 'text', text: 'https://map.example' } }],
          [{ kind: 'heading', line: [{ kind: 'text', text: 'right' }] }],
        ],
      },
      {
        kind: 'table',
        hasHead: true,
        rows: [
          [[{ kind: 'text', text: 'Hour' }], [{ kind: 'text', text: 'What' }]],
          [[{ kind: 'text', text: '20:30' }], [{ kind: 'field', field: 'event.title', fallback: '' }]],
        ],
      },
      event,
      { kind: 'calendar' },
      { kind: 'places' },
      { kind: 'coming', days: 30 },
      { kind: 'reply', tone: 'formal' },
      {
        kind: 'html',
        html: '<p style="color:#333">Own <b>markup</b>, {{person.firstName|friend}}</p><img src=x onerror=a()>',
      },
      { kind: 'quoted', text: 'a stranger’s <b> https://evil.example {{link.reply}}' },
    ],
  },
  'markup that breaks out': {
    subject: 'Own',
    blocks: [{ kind: 'html', html: '</div></td></table><table><tr><td>x</div></p><b><i>y</b></i>' }, event],
  },
  'markup that runs': {
    subject: 'Own',
    blocks: [
      { kind: 'html', html: '<a href="javascript:x">a</a><svg/onload=x><style>*{}</style><form><input></form>' },
      event,
    ],
  },
  'links of all kinds': {
    subject: 'Links',
    blocks: [
      {
        kind: 'paragraph',
        line: [
          { kind: 'text', text: 'a', link: 'https://x.example/?a=1&b="<>' },
          { kind: 'text', text: 'b', link: 'mailto:a@b.example?subject=x&body=y' },
          { kind: 'text', text: 'c', link: 'tel:+351910000000' },
          { kind: 'text', text: 'd', link: 'javascript:alert(1)' },
        ],
      },
      event,
    ],
  },
  'only for some': {
    subject: 'Some',
    blocks: [
      { ...line('for who answered'), only: { kind: 'reply', replies: ['accepted'] } },
      { ...line('for who did not'), only: { kind: 'reply', replies: ['needs-action'] } },
      event,
    ],
  },
  'plain text written apart': {
    ...letter('Apart: {{event.title}}', 'In blocks.', event),
    plain: { text: 'Apart {{event.title}}\n{{event.when}}\n{{event.place}}', of: '' },
  },
};

/** A letter in each language of the house, and one that speaks all of them. */
const spoken: Readonly<Record<string, WordingDocument>> = Object.fromEntries([
  ...languages.map((language) => [
    `in ${language}`,
    {
      ...letter(`${language}: {{event.title}}`, `${language} {{person.firstName|friend}}`, event, reply),
      languages: {
        [language]: letter(`${language}! {{event.title}}`, { kind: 'opening', tone: 'plain' }, event, reply),
      },
    },
  ]),
  [
    'in all languages',
    {
      ...letter('{{event.title}}', 'First.', event),
      languages: Object.fromEntries(
        languages.map((one) => [one, letter(`${one} {{event.title}}`, `In ${one}.`, event)]),
      ),
    },
  ],
]);

export const corpus: Readonly<Record<string, WordingDocument>> = { ...written, ...spoken };
export const textCorpus: Readonly<Record<string, WordingDocument>> = {
  plain: plainDocument('', '{{event.title}}, {{event.date}} {{event.time}}. STOP ends this.'),
  emoji: plainDocument('', '🌒 {{event.title}} 👨‍👩‍👧‍👦'),
  'forced long': plainDocument('', 'ã — “{{event.title}}”'),
};
