import type { Block, WordingDocument } from './document';
import { prepareDocument } from './render';
import { linkNumber, linksIn, markLinks, shortenLinks, unmarkLinks } from './typed-links';

describe('links that were typed', () => {
  const link = (text: string, to: string) => ({ kind: 'text' as const, text, link: to });
  const blocks: Block[] = [
    { kind: 'paragraph', line: [link('the map', 'https://map.example/?a=1&b=2'), link('write', 'mailto:a@b.example')] },
    {
      kind: 'columns',
      columns: [[{ kind: 'button', label: 'Go', address: { kind: 'text', text: 'https://go.example' } }], []],
    },
    { kind: 'button', label: 'Reply', address: { kind: 'field', field: 'link.reply', fallback: '' } },
    { kind: 'plain', text: 'https://as-typed.example' },
  ];
  const pt: Block[] = [{ kind: 'table', rows: [[[link('o mapa', 'https://mapa.example')]]] }];
  const wording: WordingDocument = { subject: 'S', blocks, languages: { pt: { subject: 'S', blocks: pt } } };

  it('are numbered in all languages, and lead where each reader’s does; fields, and what is no link, stay as they are', () => {
    const { document, addresses } = markLinks(wording);
    expect(addresses).toEqual(['https://map.example/?a=1&b=2', 'https://go.example', 'https://mapa.example']);
    const { html, text } = prepareDocument(document).fill({ 'link.reply': 'https://c.example/r/1' });
    const own = (index: number): string => `https://c.example/l/${index}&x`;
    expect(unmarkLinks(html, own)).toContain('href="https://c.example/l/0&x"');
    expect(unmarkLinks(text, own)).toContain('Go: https://c.example/l/1&x');
    expect(unmarkLinks(text, own)).toContain('https://as-typed.example');
    expect(unmarkLinks(text, own)).toContain('Reply: https://c.example/r/1');
    // Back where they led, it is the very message that it was.
    const bare = prepareDocument(wording).fill({});
    const back = prepareDocument(document).fill({});
    expect(unmarkLinks(back.text, (index) => addresses[index] ?? '')).toBe(bare.text);
  });

  it('stand in markup of the house’s own too, and each once', () => {
    const html =
      '<p title="x"><a style="color:red" href="https://m.example/?a=1&amp;b=2">A</a> <a href="{{link.reply}}">B</a> https://m.example/no</p>';
    const text = 'A [https://m.example/?a=1&b=2] B [{{link.reply}}] https://m.example/no';
    const again: Block = { kind: 'paragraph', line: [link('again', 'https://m.example/?a=1&b=2')] };
    const { document, addresses } = markLinks({ subject: '', blocks: [{ kind: 'html', html, text }, again] });
    expect(addresses).toEqual(['https://m.example/?a=1&b=2']);
    const filled = prepareDocument(document).fill({ 'link.reply': 'https://c.example/r/1' });
    const counted = (index: number): string => `https://c.example/l/${index}`;
    expect(unmarkLinks(filled.html, counted).match(/https:\/\/c\.example\/l\/0/g)?.length).toBe(2);
    expect(unmarkLinks(filled.text, counted)).toContain(
      'A [https://c.example/l/0] B [https://c.example/r/1] https://m.example/no',
    );
    expect(filled.html).toContain('>A</a>');
  });

  it('are known by FNV-1a of where they lead (its authors’ test vectors, from memory)', () => {
    expect(linkNumber('')).toBe(0x811c9dc5);
    expect(linkNumber('a')).toBe(0xe40c292c);
    expect(linkNumber('foobar')).toBe(0xbf9cf968);
  });

  it('that lead nowhere stay words', () => {
    const { document, addresses } = markLinks({
      subject: '',
      blocks: [{ kind: 'paragraph', line: [link('a', 'https://x y')] }],
    });
    expect(addresses).toEqual([]);
    expect(prepareDocument(document).fill({}).html).not.toContain('href');
  });

  it('in texts give way to shorter ones, in their order, where those are shorter', () => {
    const text = 'See https://x.example/abcdefghijklmnop, or https://y.example. (https://x.example/abcdefghijklmnop)';
    expect(shortenLinks(text, (index) => `https://c.example/${index}`)).toBe(
      'See https://c.example/0, or https://y.example. (https://c.example/2)',
    );
    expect(linksIn(text)[2]).toBe('https://x.example/abcdefghijklmnop');
  });
});
