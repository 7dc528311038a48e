import type { Block, WordingDocument } from './document';
import { plainDocument, plainTextOf } from './document';
import type { FieldValues } from './fields';
import { prepareDocument } from './render';

const values: FieldValues = {
  'person.firstName': 'Ana <b>',
  'event.title': 'Dome\r\nBcc: night',
  'link.reply': 'https://convite.example/r/abc',
  'event.place': '',
};
const document = (...blocks: Block[]): WordingDocument => ({ subject: 'About {{event.title}}', blocks });
const filled = (...blocks: Block[]) => prepareDocument(document(...blocks)).fill(values);

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
  for (const [what, block, text, html] of rows)
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

  it('gives typed text back as it was typed', () => {
    const typed = ' Dear {{ person.name | you }},\n\n\nbye ';
    expect(plainTextOf(plainDocument('s', typed))).toBe(typed);
    expect(plainDocument('s', '').blocks).toEqual([]);
  });
});
