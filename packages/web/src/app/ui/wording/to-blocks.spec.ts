import { letter, type WordingDocument } from '@convite/core';
import { blocksOf, contentOf } from './to-blocks';

describe('what the editor holds, as blocks', () => {
  const there: WordingDocument = letter(
    'Subject',
    'Dear {{person.firstName|friend}},\nsee you at https://dome.example/a?b=1.\n\n- a coat\n- no lamp',
    { kind: 'heading', line: [{ kind: 'text', text: 'When', italic: true }] },
    { kind: 'event' },
    { kind: 'list', items: [[{ kind: 'text', text: 'one', bold: true }]], isNumbered: true },
    { kind: 'quote', line: [{ kind: 'text', text: 'said' }, { kind: 'break' }, { kind: 'text', text: 'twice' }] },
    { kind: 'divider' },
    { kind: 'button', label: 'I come', address: { kind: 'field', field: 'link.reply', fallback: '' } },
    { kind: 'paragraph', line: [{ kind: 'text', text: 'the map', link: 'https://map.example', bold: true }] },
    { kind: 'calendar' },
    { kind: 'picture', digest: 'a'.repeat(40), width: 600, height: 400, words: 'The dome', link: 'https://a.example' },
    { kind: 'picture', digest: 'b'.repeat(40), width: 30, height: 40, words: '' },
    { kind: 'reply', only: { kind: 'reply', replies: ['needs-action'] } },
    { kind: 'paragraph', line: [{ kind: 'text', text: 'far' }], only: { kind: 'elsewhere' } },
    { kind: 'list', items: [[{ kind: 'text', text: 'a link' }]], only: { kind: 'online' } },
  );

  it('is the same there and back, whatever stands in it', () => {
    expect(blocksOf(contentOf(there))).toEqual([...there.blocks]);
  });

  it('takes what was typed as plain text for paragraphs, and nothing for nothing', () => {
    const typed = { subject: '', blocks: [{ kind: 'plain', text: 'One {{event.title}}\n\nTwo' }] } as const;
    expect(blocksOf(contentOf(typed)).map(({ kind }) => kind)).toEqual(['paragraph', 'paragraph']);
    expect(blocksOf(contentOf({ subject: '', blocks: [] }))).toEqual([]);
  });

  it('makes fields of braces that were pasted, and leaves those that are none as they stand', () => {
    const pasted = {
      type: 'doc',
      content: [{ type: 'paragraph', content: [{ type: 'text', text: 'to {{person.name}} {{nobody}}' }] }],
    };
    expect(blocksOf(pasted)).toEqual([
      {
        kind: 'paragraph',
        line: [
          { kind: 'text', text: 'to ' },
          { kind: 'field', field: 'person.name', fallback: '' },
          { kind: 'text', text: ' ' },
          { kind: 'text', text: '{{nobody}}' },
        ],
      },
    ]);
  });

  it('passes over what the editor does not know, such as a field of another day', () => {
    const strange = {
      type: 'doc',
      content: [
        { type: 'paragraph', content: [{ type: 'mergeField', attrs: { field: 'person.shoeSize' } }] },
        { type: 'aboutEvent', attrs: { kind: 'weather' } },
        { type: 'video' },
      ],
    };
    expect(blocksOf(strange)).toEqual([]);
  });
});
