import type { ProblemCode } from '../problem';
import type { Block, WordingDocument } from './document';
import { aboutNothing } from './about-event';
import { blockWords, tones } from './block-words';
import { languages } from '../time/language';
import { houseBlocksIn, inLanguage, withHouseBlocks } from './versions';
import { plainDocument } from './document';
import { asBlocks, blocksOfText, plainTextOf } from './written';
import type { FieldValues } from './fields';
import { prepareDocument } from './render';

const values: FieldValues = {
  'person.firstName': 'Ana <b>',
  'event.title': 'Dome\r\nBcc: night',
  'link.reply': 'https://convite.example/r/abc',
  'event.place': '',
};
const document = (...blocks: readonly Block[]): WordingDocument => ({ subject: 'About {{event.title}}', blocks });
const filled = (...blocks: Block[]) => prepareDocument(document(...blocks)).fill(values);

describe('an address in a block of any kind', () => {
  const facts = {
    span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
    zone: 'Europe/Lisbon',
    endZone: '',
  } as const;
  const picture = { kind: 'picture', digest: 'd', width: 9, height: 9, words: 'x' } as const;
  const blocksWith = (url: string): Block[] => [
    { kind: 'entry', title: 'Dome night', url, about: 'x', lead: 'x' },
    { kind: 'coming', days: 9, events: [{ title: 'Dome night', url, facts }] },
    { kind: 'button', label: 'Go', address: { kind: 'text', text: url } },
    { kind: 'button', label: 'Go', address: { kind: 'field', field: 'event.joinLink', fallback: '' } },
    { kind: 'paragraph', line: [{ kind: 'text', text: 'Go', link: url }] },
    { ...picture, link: url },
    { kind: 'columns', columns: [[{ ...picture, link: url }]] },
    { kind: 'event' },
    { kind: 'calendar' },
    { kind: 'reply' },
    { kind: 'plain', text: '{{link.reply}}' },
  ];
  const rendered = (url: string): string[] =>
    blocksWith(url).map(
      (block) =>
        prepareDocument({ subject: '', blocks: [block] }).fill(
          { 'link.reply': url, 'link.ics': url, 'event.joinLink': url, 'event.when': 'x' },
          { ...aboutNothing, pictureUrl: () => 'https://x.example/p', calendars: [{ name: 'Web', url }] },
        ).html,
    );

  it('leads to the web, a mail or a telephone, and nowhere else', () => {
    for (const url of [
      'javascript:alert(1)',
      'JaVaScRiPt:alert(1)',
      'data:text/html,x',
      'file:///etc/passwd',
      'vbscript:x',
      ' javascript:x',
    ])
      for (const html of rendered(url)) expect([url, /href="(?!https:\/\/)/i.exec(html)]).toEqual([url, null]);
    // The same blocks do lead somewhere.
    expect(
      rendered('https://good.example/').filter((html) => html.includes('href="https://good.example/')).length,
    ).toBe(11);
  });
});

describe('a wording as a document', () => {
  it('says a subject in one line, whatever stands in a field', () => {
    expect(filled().subject).toBe('About Dome Bcc: night');
  });

  const rows: [string, Block, string, string | RegExp][] = [
    [
      'plain text with its fields',
      { kind: 'plain', text: 'Dear {{person.firstName}},\n\n{{event.place}}\n\n{{link.reply}}' },
      'Dear Ana <b>,\n\nhttps://convite.example/r/abc',
      /^<p [^>]+>Dear Ana &lt;b&gt;,<\/p><p [^>]+><a href="https:\/\/convite.example\/r\/abc" [^>]+>https/,
    ],
    [
      'a stranger’s words, in which nothing is a field or a link',
      { kind: 'quoted', text: '{{link.reply}} https://x.example' },
      '{{link.reply}} https://x.example',
      /^<p [^>]+>\{\{link.reply\}\} https:\/\/x.example<\/p>$/,
    ],
    [
      'a paragraph of text, fields and links',
      {
        kind: 'paragraph',
        line: [
          { kind: 'text', text: 'Dear ', bold: true },
          { kind: 'field', field: 'person.firstName', fallback: '' },
          { kind: 'text', text: ', see ' },
          { kind: 'text', text: 'the map', link: 'https://map.example/?a=1&b="' },
        ],
      },
      'Dear Ana <b>, see the map (https://map.example/?a=1&b=")',
      /<b>Dear <\/b>Ana &lt;b&gt;, see <a href="https:\/\/map.example\/\?a=1&amp;b=&quot;" [^>]+>the map<\/a>/,
    ],
    [
      'a fallback where a field says nothing',
      { kind: 'heading', line: [{ kind: 'field', field: 'event.place', fallback: 'somewhere' }] },
      'somewhere',
      /^<h2 [^>]+>somewhere<\/h2>$/,
    ],
    [
      'a picture that nobody told where to find, which is left out',
      { kind: 'picture', digest: 'a', width: 10, height: 10, words: 'The dome' },
      '',
      /^$/,
    ],
    [
      'a list',
      { kind: 'list', items: [[{ kind: 'text', text: 'a coat' }], [{ kind: 'text', text: 'no lamp' }]] },
      '- a coat\n- no lamp',
      /<li>a coat<\/li><li>no lamp<\/li>/,
    ],
    [
      'a button, whose address the text says',
      { kind: 'button', label: 'I come', address: { kind: 'field', field: 'link.reply', fallback: '' } },
      'I come: https://convite.example/r/abc',
      /<a href="https:\/\/convite.example\/r\/abc" [^>]+>I come<\/a>/,
    ],
  ];
  const more: [string, Block, string, RegExp][] = [
    [
      'a numbered list, its empty field leaving no hole',
      {
        kind: 'list',
        isNumbered: true,
        items: [
          [{ kind: 'text', text: 'first', italic: true }],
          [{ kind: 'field', field: 'event.title', fallback: '' }],
        ],
      },
      '1. first\n2. Dome\r\nBcc: night',
      /^<ol [^>]+><li><i>first<\/i><\/li>/,
    ],
    [
      'a quote in lines',
      { kind: 'quote', line: [{ kind: 'text', text: 'a' }, { kind: 'break' }, { kind: 'text', text: '<b>' }] },
      'a\n<b>',
      /^<blockquote [^>]+>a<br \/>&lt;b&gt;<\/blockquote>$/,
    ],
    [
      'lines of which one is empty',
      {
        kind: 'paragraph',
        line: [
          { kind: 'text', text: 'a' },
          { kind: 'break' },
          { kind: 'field', field: 'event.place', fallback: '' },
          { kind: 'break' },
          { kind: 'text', text: 'b' },
        ],
      },
      'a\nb',
      /^<p [^>]+>a<br \/>b<\/p>$/,
    ],
    ['a divider', { kind: 'divider' }, '---', /^<hr /],
    [
      'columns, one below the other in plain text',
      {
        kind: 'columns',
        columns: [
          [{ kind: 'heading', line: [{ kind: 'text', text: 'Left' }] }],
          [{ kind: 'paragraph', line: [{ kind: 'field', field: 'event.title', fallback: '' }] }],
        ],
      },
      'Left\n\nDome\r\nBcc: night',
      /^<div><div [^>]+max-width:266px[^>]+><h2 [^>]+>Left<\/h2><\/div><div [^]*<\/div><\/div>$/,
    ],
    [
      'a table with its head',
      {
        kind: 'table',
        hasHead: true,
        rows: [
          [[{ kind: 'text', text: 'Hour' }], [{ kind: 'text', text: 'What' }]],
          [[{ kind: 'text', text: '20:30' }], [{ kind: 'field', field: 'person.firstName', fallback: '' }]],
        ],
      },
      'Hour | What\n20:30 | Ana <b>',
      /<tr><th [^>]+>Hour<\/th>.*<td [^>]+>20:30<\/td><td [^>]+>Ana &lt;b&gt;<\/td><\/tr><\/table>$/,
    ],
    [
      'an opening by name',
      { kind: 'opening', tone: 'playful' },
      'Hello Ana <b>!',
      /^<p [^>]+>Hello Ana &lt;b&gt;!<\/p>$/,
    ],
    [
      'answers to press, which lead to a page that asks once more',
      { kind: 'reply' },
      'I am coming / Perhaps / I cannot come: https://convite.example/r/abc',
      /href="https:\/\/convite.example\/r\/abc\?say=accepted"[^>]+>I am coming<.*\?say=declined/,
    ],
  ];
  for (const [what, block, text, html] of [...rows, ...more])
    it(`shows ${what}`, () => {
      const said = filled(block);
      expect(said.text).toBe(text);
      expect(said.html).toMatch(html);
    });

  it('leaves out a block that says nothing, and parts the others by a blank line', () => {
    const said = filled(
      { kind: 'plain', text: 'One' },
      { kind: 'plain', text: '{{event.place}}' },
      { kind: 'plain', text: 'Two' },
    );
    expect(said.text).toBe('One\n\nTwo');
    expect(said.html).not.toContain('></p>');
  });

  it('names the fields that it asks for, and what is wrong with them', () => {
    const prepared = prepareDocument(document({ kind: 'plain', text: '{{link.reply}} {{nobody}} {{open' }));
    expect([...prepared.fields]).toEqual(['event.title', 'link.reply']);
    expect(prepared.problems.map(({ code, path }) => `${path} ${code}`)).toEqual([
      'body unknown-field',
      'body field-not-closed',
    ]);
  });

  it('says when and where in the reader’s language, the place to join as a link, and offers every web calendar', () => {
    const prepared = prepareDocument({ subject: '', blocks: [{ kind: 'event' }, { kind: 'calendar' }] });
    expect([...prepared.about]).toEqual(['event', 'calendar']);
    const said = prepared.fill(
      {
        'event.when': 'Fri 27 Nov',
        'event.place': 'Dome <1>',
        'event.joinLink': 'https://live.example/j',
        'link.ics': 'https://convite.example/i/1',
      },
      {
        ...aboutNothing,
        words: blockWords.pt,
        calendars: [{ name: 'Agenda & co', url: 'https://agenda.example/?a=1&b=2' }],
      },
    );
    expect(said.text).toBe(
      'Quando: Fri 27 Nov\nOnde: Dome <1>\nhttps://live.example/j\n\nJuntar a Agenda & co: https://agenda.example/?a=1&b=2\nFicheiro de calendário: https://convite.example/i/1',
    );
    expect(said.html).toContain('Dome &lt;1&gt;');
    // What leads online is pressed, and shows no address.
    expect(said.html).toMatch(/href="https:\/\/live.example\/j"[^>]+>Entrar em linha</);
    expect(said.html).toContain('href="https://agenda.example/?a=1&amp;b=2"');
  });

  it('names what was typed as a field and is none, in every kind of block, and keeps the line beside the subject in one line', () => {
    const line = [{ kind: 'text', text: '{{nobody}}' }] as const;
    const prepared = prepareDocument({
      subject: '',
      preheader: '{{event.title}}',
      blocks: [
        { kind: 'heading', line },
        { kind: 'quote', line },
        { kind: 'list', items: [line] },
      ],
    });
    expect(prepared.problems.map(({ path, code }) => `${path} ${code}`)).toEqual(Array(3).fill('body unknown-field'));
    expect(prepared.fill(values).preheader).toBe('Dome Bcc: night');
  });

  const presses: [string, string, string, ProblemCode[]][] = [
    ['a web address', 'Go', 'https://x.example/y', []],
    ['an address of mail', 'Write', 'mailto:a@x.example', []],
    ['no words', ' ', 'https://x.example', ['no-press-words']],
    ['what runs', 'Go', ' javascript:alert(1)', ['bad-press']],
    ['an address with a space', 'Go', 'https://x.example/a b', ['bad-press']],
    ['nothing', 'Go', '', ['bad-press']],
  ];
  for (const [what, label, address, codes] of presses)
    it(`${codes.length ? 'names' : 'lets one press'} a button and a link with ${what}`, () => {
      const button: Block = { kind: 'button', label, address: { kind: 'text', text: address } };
      const line = [{ kind: 'text', text: 'here', link: address }] as const;
      const prepared = prepareDocument(document(button, { kind: 'paragraph', line }));
      expect([...new Set(prepared.problems.map(({ code }) => code))]).toEqual(codes);
      const { html } = prepared.fill(values);
      expect(html.includes('javascript') && html.includes('<a ')).toBeFalse();
      if (codes.includes('bad-press')) expect(html).not.toContain('<a ');
    });

  it('reads a typed letter as paragraphs and lists, and says it as it was typed again', () => {
    const typed = 'Dear {{person.name|you}},\nline\n\n- a coat\n- https://x.example/y.';
    expect(blocksOfText(typed).map(({ kind }) => kind)).toEqual(['paragraph', 'list']);
    expect(plainTextOf(asBlocks(plainDocument('s', typed)))).toBe(typed);
    expect(asBlocks(plainDocument('s', '')).blocks).toEqual([]);
  });

  it('gives typed text back as it was typed', () => {
    const typed = ' Dear {{ person.name | you }},\n\n\nbye ';
    expect(plainTextOf(plainDocument('s', typed))).toBe(typed);
    expect(plainDocument('s', '').blocks).toEqual([]);
  });

  it('shows a picture where it is, no wider than a mail, and says its words where it is not seen', () => {
    const picture: Block = { kind: 'picture', digest: 'd1', width: 1200, height: 601, words: 'The <dome>' };
    const about = { ...aboutNothing, pictureUrl: (digest: string) => `https://h.example/${digest}` };
    const fill = (...blocks: Block[]) => prepareDocument(document(...blocks)).fill(values, about);
    const shown = fill(picture);
    expect(shown.html).toContain('src="https://h.example/d1" width="552" height="276" alt="The &lt;dome&gt;"');
    expect(shown.text).toBe('[The <dome>]');
    const wordless = fill({ ...picture, width: 20, height: 10, words: '' }, { kind: 'divider' });
    expect([wordless.text, wordless.html.includes('width="20" height="10"')]).toEqual(['---', true]);
    expect(prepareDocument(document({ ...picture, link: 'javascript:x' })).problems.map(({ code }) => code)).toEqual([
      'bad-press',
    ]);
    expect(fill({ ...picture, link: 'javascript:x' }).html).not.toContain('javascript');
  });

  it('knows which fields say nothing, wherever they stand, but for those with something to stand in', () => {
    const field = (name: 'event.place' | 'person.name' | 'event.title', fallback = ''): Block => ({
      kind: 'paragraph',
      line: [{ kind: 'field', field: name, fallback }],
    });
    const prepared = prepareDocument({
      subject: '{{event.place}} {{event.repeats|once}}',
      preheader: '{{event.joinLink}}',
      blocks: [
        field('event.place'),
        field('person.name', 'friend'),
        field('event.title'),
        { kind: 'plain', text: '{{event.notes}}' },
        { kind: 'list', items: [[{ kind: 'field', field: 'event.description', fallback: '' }]] },
        { kind: 'button', label: 'Join', address: { kind: 'field', field: 'event.joinLink', fallback: '' } },
      ],
    });
    expect(prepared.emptyWith(values)).toEqual(['event.place', 'event.joinLink', 'event.notes', 'event.description']);
  });

  it('says what a reader is down for, and what else is coming up', () => {
    const about = {
      ...aboutNothing,
      places: { count: 2, dates: ['Fri 27 Nov', 'Fri 4 Dec'], reference: 'K7-22' },
    };
    const span = { kind: 'all-day', firstDay: '2026-12-04', lastDay: '2026-12-04' } as const;
    const facts = { span, zone: 'Europe/Lisbon', endZone: '' };
    const events = [{ title: 'Dome <2>', url: 'https://c.example/e/2', facts }];
    const said = prepareDocument(document({ kind: 'places' }, { kind: 'coming', days: 30, events })).fill(
      values,
      about,
    );
    expect(said.text).toBe(
      'Places: 2\nDates: Fri 27 Nov\nFri 4 Dec\nReference: K7-22\n\n- Dome <2>\n  Fri 4 Dec 2026\n  https://c.example/e/2',
    );
    expect(said.html).toContain('href="https://c.example/e/2"');
    expect(said.html).toContain('Dome &lt;2&gt;');
    expect(prepareDocument(document({ kind: 'places' })).fill(values, aboutNothing)).toEqual(
      jasmine.objectContaining({ text: '', html: '' }),
    );
  });

  it('says answers and openings in every language and tone, each in its own words', () => {
    for (const language of languages)
      for (const tone of tones) {
        const about = { ...aboutNothing, words: blockWords[language] };
        const said = prepareDocument(document({ kind: 'opening', tone }, { kind: 'reply', tone })).fill(values, about);
        expect(said.text).toMatch(/Ana <b>[^]*\n\n[^/]+ \/ [^/]+ \/ [^/]+: https:/);
        expect(blockWords[language].openings[tone].toNobody).not.toContain('…');
      }
  });

  it('is read in the reader’s language where it is said in that, else in the first', () => {
    const first: WordingDocument = {
      ...{ subject: 'Stars', preheader: 'tonight', blocks: [{ kind: 'plain', text: 'Come.' }], from: 'own-1' },
      languages: { pt: { subject: 'Estrelas', blocks: [{ kind: 'plain', text: 'Venha.' }] } },
    };
    const said = (language: 'pt' | 'de') => prepareDocument(inLanguage(first, language)).fill({});
    expect([said('pt').subject, said('pt').text, said('pt').preheader]).toEqual(['Estrelas', 'Venha.', '']);
    expect([said('de').subject, said('de').text, said('de').preheader]).toEqual(['Stars', 'Come.', 'tonight']);
  });

  it('lets the house’s blocks take their place, in every language, for whom they stand; none stands in another', () => {
    const house: Block = { kind: 'house', key: 'own-2', name: 'Directions' };
    const only = { kind: 'in-place' } as const;
    const wording: WordingDocument = {
      subject: '',
      blocks: [{ ...house, only }],
      languages: { pt: { subject: '', blocks: [house] } },
    };
    const text = { kind: 'plain', text: 'Up the hill.' } as const;
    const stands = withHouseBlocks(wording, () => [text, house]);
    expect(stands.blocks).toEqual([{ ...text, only }]);
    expect(stands.languages?.pt?.blocks).toEqual([text]);
    expect(houseBlocksIn(wording)).toEqual(['own-2']);
    expect(withHouseBlocks(wording, () => []).blocks).toEqual([]);
  });

  it('takes a plain text that was written apart, with its fields', () => {
    const wording = { ...document({ kind: 'divider' }), plain: { text: 'For {{person.firstName}}: {{x}}', of: '---' } };
    const prepared = prepareDocument(wording);
    expect(prepared.fill(values).text).toBe('For Ana <b>: {{x}}');
    expect(prepared.fill(values).html).toContain('<hr');
    expect(prepared.fields.has('person.firstName')).toBeTrue();
    expect(prepared.problems.map(({ code, path }) => `${code} ${path}`)).toEqual(['unknown-field plain']);
  });
});
