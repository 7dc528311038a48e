import { TestBed } from '@angular/core/testing';
import { letter, type Block, type WordingDocument } from '@convite/core';
import { of } from 'rxjs';
import { noWordingSource, openScreen } from '../../testing/screen';
import { RichEditor } from './rich-editor';
import { ReadSamples } from './samples';
import { blocksOf, contentOf } from './to-blocks';
import { WordingSource } from './wording-source';

describe('RichEditor', () => {
  const open = async (wording: WordingDocument, ofEvent = true, over: Partial<WordingSource> = {}) => {
    const source = { provide: WordingSource, useValue: { ...noWordingSource, ...over } };
    const screen = await openScreen(RichEditor, { wording, ofEvent }, [source]);
    const told: (readonly Block[])[] = [];
    screen.fixture.componentInstance.blocks.subscribe((blocks) => told.push(blocks));
    document.body.append(screen.element);
    await screen.settle();
    const put = async (words: string): Promise<void> => {
      await screen.type('.put input', words);
      screen.find('.put input').dispatchEvent(new Event('focusin'));
      await screen.settle();
      const option = [...document.querySelectorAll<HTMLElement>('mat-option')].find((one) =>
        one.textContent?.includes(words),
      );
      if (!option) throw new Error(`nothing offered is ${words}`);
      option.click();
      await screen.settle();
    };
    return { ...screen, told, put };
  };

  it('shows fields as chips and blocks about the event, and tells nothing until something is changed', async () => {
    const { find, told, text } = await open(letter('', 'Dear {{person.firstName|friend}},', { kind: 'event' }));
    expect(find('[role=textbox]').getAttribute('aria-label')).toBe('Message');
    expect(find('.field-chip').textContent).toBe('person.firstName | friend');
    expect(text()).toContain('When and where it is');
    expect(told).toEqual([]);
  });

  it('puts in fields and blocks by their names, behind what stands there until somebody says where', async () => {
    const { put, told } = await open(letter('', 'See you. '));
    await put('event.place');
    await put('Yes, perhaps or no');
    expect(told.at(-1)?.map(({ kind }) => kind)).toEqual(['paragraph', 'reply']);
    expect(JSON.stringify(told.at(-1))).toContain('event.place');
  });

  it('offers nothing of an event where the message is about none', async () => {
    const { put } = await open(letter('', 'See you.'), false);
    await put('person.name');
    await expectAsync(put('event.place')).toBeRejected();
  });

  it('asks where a button leads, and what stands in for an empty field', async () => {
    const { put, type, told } = await open(letter('', ''));
    await put('Button');
    await type('cv-picked-piece input', 'Come in');
    expect(told.at(-1)).toEqual([
      { kind: 'button', label: 'Come in', address: { kind: 'field', field: 'link.event', fallback: '' } },
    ]);
  });

  it('makes a link of what is typed for an address, in words that are there or by itself', async () => {
    const { press, type, told } = await open(letter('', 'See '));
    await press('Link');
    await type('cv-picked-piece input', 'dome.example/map', 'change');
    expect(told.at(-1)).toEqual([
      {
        kind: 'paragraph',
        line: [
          { kind: 'text', text: 'See' },
          { kind: 'text', text: 'https://dome.example/map', link: 'https://dome.example/map' },
        ],
      },
    ]);
  });

  it('puts in a picture of the house or from a file, and asks for its words', async () => {
    const picture = {
      ...{ digest: 'a'.repeat(40), url: '', name: 'dome.jpg', words: '', width: 1200, height: 600, octets: 9000 },
      ...{ isArchived: false, addedAt: '2026-11-20T10:00:00.000Z', addedBy: 'Marta' },
    };
    const source = { pictures: () => of({ rows: [picture], next: null }) };
    const { put, type, told, element, settle } = await open(letter('', ''), true, source);
    await put('Picture');
    element.querySelector<HTMLButtonElement>('cv-picture-chooser li button')?.click();
    await settle();
    expect(element.querySelector('cv-picture-chooser')).toBeNull();
    await type('cv-picked-piece input', 'The dome at night');
    expect(told.at(-1)).toEqual([
      { kind: 'picture', digest: picture.digest, width: 1200, height: 600, words: 'The dome at night' },
    ]);
  });

  it('says of the block in which one stands for whom it is, and takes that back', async () => {
    const { told, find, settle, element } = await open(letter('', 'For all.\n\nFor some.'));
    const choose = async (says: string) => {
      const select = find<HTMLSelectElement>('.for select');
      select.value = [...select.options].find(({ text }) => text.includes(says))?.value ?? '';
      select.dispatchEvent(new Event('change'));
      await settle();
    };
    await choose('did not answer');
    const only = { kind: 'reply', replies: ['needs-action'] };
    expect(told.at(-1)?.map((block) => block.only)).toEqual([undefined, jasmine.objectContaining(only)]);
    expect(element.querySelector('[data-only-says]')?.textContent).toBe('For some.');
    expect(find<HTMLSelectElement>('.for select').value).toBe(JSON.stringify(only));
    await choose('for everybody');
    expect(told.at(-1)?.map((block) => block.only)).toEqual([undefined, undefined]);
  });

  it('shows beside blocks of every kind for whom they stand', async () => {
    const only = { kind: 'online' } as const;
    const line = [{ kind: 'text' as const, text: 'x' }];
    const blocks: Block[] = [
      ...(['heading', 'paragraph', 'quote'] as const).map((kind) => ({ kind, line, only })),
      { kind: 'list', items: [line], only },
      { kind: 'divider', only },
      { kind: 'reply', only },
      { kind: 'button', label: 'x', address: { kind: 'text', text: 'https://a.example' }, only },
      { kind: 'picture', digest: 'a'.repeat(40), width: 1, height: 1, words: '', only },
    ];
    const { element } = await open({ subject: '', blocks });
    const marked = [...element.querySelectorAll('[data-only-says]')];
    expect(marked.map((block) => block.getAttribute('data-only-says'))).toEqual(
      blocks.map(() => 'only if it is online'),
    );
  });

  it('moves a block past its neighbour, takes it back, and follows what somebody else saved', async () => {
    const { press, told, fixture, settle, find } = await open(letter('', 'One\n\nTwo'));
    await press('Up');
    const said = (): unknown => told.at(-1)?.map((block) => 'line' in block && block.line);
    expect(said()).toEqual([[{ kind: 'text', text: 'Two' }], [{ kind: 'text', text: 'One' }]]);
    await press('Undo');
    expect(said()).toEqual([[{ kind: 'text', text: 'One' }], [{ kind: 'text', text: 'Two' }]]);
    const before = told.length;
    fixture.componentRef.setInput('wording', letter('', 'Theirs'));
    await settle();
    expect([find('[role=textbox]').textContent, told.length]).toEqual(['Theirs', before]);
  });

  it('puts in columns, behind which stands what does not fit into them', async () => {
    const { put, told } = await open(letter('', ''));
    await put('Two columns');
    await put('event.title');
    await put('What they registered for');
    const line = [{ kind: 'field' as const, field: 'event.title' as const, fallback: '' }];
    expect(told.at(-1)).toEqual([
      { kind: 'columns', columns: [[{ kind: 'paragraph', line }], []] },
      { kind: 'places' },
    ]);
  });

  it('puts in a table, which is written into where it begins, and is told as it stands', async () => {
    const { put, told, find, press } = await open(letter('', 'See:'));
    await put('a small one');
    await put('event.time');
    expect(find('.ProseMirror th').textContent).toBe('event.time');
    await press('Row below');
    const table = told.at(-1)?.find(({ kind }) => kind === 'table');
    expect(table).toEqual(jasmine.objectContaining({ hasHead: true }));
    expect(table?.kind === 'table' && table.rows.length).toBe(3);
    await press('Take the table out');
    expect(told.at(-1)?.some(({ kind }) => kind === 'table')).toBeFalse();
  });

  it('puts in a block of the house by its name, and says which it is', async () => {
    const houseBlocks = () => of([{ key: 'own-2', name: 'How to find us' }]);
    const { put, told, text } = await open(letter('', ''), true, { houseBlocks });
    await put('How to find us');
    expect(told.at(-1)).toEqual([{ kind: 'house', key: 'own-2', name: 'How to find us' }]);
    expect(text()).toContain('Block of the house: How to find us');
  });

  it('says in which tone an answer is asked for', async () => {
    const { text } = await open(letter('', { kind: 'reply', tone: 'playful' }));
    expect(text()).toContain('Yes, perhaps or no, playful');
  });

  it('carries every block through the editor and back as it was', async () => {
    const line = [{ kind: 'text' as const, text: 'a' }];
    const blocks: Block[] = [
      { kind: 'opening', tone: 'warm' },
      {
        kind: 'columns',
        columns: [
          [{ kind: 'heading', line }],
          [
            {
              kind: 'button',
              label: 'b',
              address: { kind: 'text', text: 'https://b.example', link: 'https://b.example' },
            },
          ],
        ],
      },
      { kind: 'table', rows: [[line, line]] },
      { kind: 'places' },
      { kind: 'coming', days: 21, only: { kind: 'online' } },
    ];
    expect(blocksOf(contentOf({ subject: '', blocks }))).toEqual(blocks);
    const { told, put } = await open({ subject: '', blocks });
    await put('Divider');
    expect(told.at(-1)).toEqual([...blocks, { kind: 'divider' }]);
  });

  it('says in a chip what its field says to whoever the message is read as', async () => {
    const { find, settle } = await open(letter('', 'Dear {{person.firstName|friend}},'));
    TestBed.inject(ReadSamples).values.set({ 'person.firstName': 'Ana' });
    await settle();
    expect(find('.field-chip').dataset['sample']).toBe('Ana');
  });
});
