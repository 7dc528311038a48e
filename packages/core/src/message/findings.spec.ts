import { letter } from './written';
import { plainDocument, type Block } from './document';
import { addressesTyped, findInMessage, saysWord, type ReadMessage } from './findings';

const evening = {
  span: { kind: 'timed', start: '2026-11-27T19:30', end: '2026-11-27T22:00' },
} as const;

function found(message: Partial<ReadMessage>, against: Partial<Parameters<typeof findInMessage>[1]> = {}): string[] {
  const wording = message.wording ?? { ...letter('Stars tonight', 'Come and see.'), preheader: 'Bring a coat' };
  return findInMessage(
    { isEmail: true, wording, subject: wording.subject, octets: 9_000, empty: [], missing: '', ...message },
    { avoid: [], facts: null, ...against },
  ).map(({ code, path, facts }) => [code, path, ...Object.values(facts ?? {})].join(' '));
}

describe('what a reader would stumble over', () => {
  it('is nothing in a plain good message', () => expect(found({})).toEqual([]));

  it('is a plain text that was written apart, and that the blocks no longer say', () => {
    const wording = { ...letter('S', 'Come at eight.'), preheader: 'p' };
    const apart = (of: string) => found({ wording: { ...wording, plain: { text: 'Come!', of } } });
    expect(apart('Come at eight.')).toEqual([]);
    expect(apart('Come at seven.')).toEqual(['plain-drifted body']);
  });

  it('is a reader whose language it does not speak, while it speaks others', () => {
    expect(found({ missing: 'Deutsch' })).toEqual(['other-language body Deutsch']);
  });

  it('is found in every language, in columns and in tables', () => {
    const cell = [{ kind: 'text' as const, text: 'http://a.example' }];
    const blocks: Block[] = [{ kind: 'columns', columns: [[{ kind: 'heading', line: cell }], []] }];
    const said = (text: string) => [{ kind: 'text' as const, text }];
    const pt = { subject: 'gratis', blocks: [{ kind: 'table' as const, rows: [[said('http://b.example'), cell]] }] };
    const wording = { subject: 'S', preheader: 'p', blocks, languages: { pt } };
    expect(found({ wording }, { avoid: ['gratis'] })).toEqual([
      'open-link body http://a.example',
      'open-link body http://b.example',
      'avoided-word subject gratis',
    ]);
  });

  it('is a subject that no phone shows, measured as it is read, in characters', () => {
    expect(found({ subject: '🌒'.repeat(60) })).toEqual([]);
    expect(found({ subject: 'x'.repeat(61) })).toEqual(['long-subject subject 61']);
  });

  it('is a missing line beside the subject, a mail that is cut, a field that says nothing', () => {
    expect(found({ wording: letter('Stars', 'Come.'), octets: 100_001, empty: ['event.place'] })).toEqual([
      'no-preheader preheader',
      'too-large body 100001',
      'empty-field body event.place',
    ]);
    expect(found({ octets: 100_000 })).toEqual([]);
  });

  it('is a time that is not the event’s, wherever it stands, once', () => {
    const wording = {
      ...letter('Tonight 19:00', 'We start at 19:30 and end at 22:00.\n\n- doors 19:00\n- bar 19:00'),
      preheader: 'until 10 pm',
    };
    expect(found({ wording }, { facts: evening })).toEqual([
      'other-time subject 19:00 19:30 22:00',
      'other-time body 19:00 19:30 22:00',
    ]);
    expect(found({ wording })).toEqual([]);
    const camp = { span: { kind: 'all-day', firstDay: '2026-11-27', lastDay: '2026-11-28' } } as const;
    expect(found({ wording }, { facts: camp })).toEqual([]);
  });

  it('is what the house does not say, as whole words, in any case', () => {
    const wording = { ...letter('LAST chance!', 'Our lasting, last-chance offer.'), preheader: 'now' };
    expect(found({ wording }, { avoid: ['last chance', 'off', ' Offer ', ''] })).toEqual([
      'avoided-word subject last chance',
      'avoided-word body Offer',
    ]);
    expect(saysWord('Straße', 'strasse')).toBeFalse();
    expect(saysWord('à la carte', 'À LA CARTE')).toBeTrue();
  });

  it('is a link that anybody on the way can read, and no text message without a way out', () => {
    const blocks: Block[] = [
      { kind: 'paragraph', line: [{ kind: 'text', text: 'here', link: 'http://a.example/x' }] },
      { kind: 'button', label: 'Press', address: { kind: 'text', text: 'https://b.example' } },
      { kind: 'list', items: [[{ kind: 'text', text: 'see http://a.example/x too' }]] },
      { kind: 'quoted', text: 'http://stranger.example 03:00 last chance' },
    ];
    expect(found({ wording: { subject: 'S', preheader: 'p', blocks } })).toEqual(['open-link body http://a.example/x']);
    expect(addressesTyped({ subject: '', blocks })).toEqual(['http://a.example/x', 'https://b.example']);
    const picture: Block = { kind: 'picture', digest: 'd', width: 1, height: 1, words: ' ' };
    expect(found({ wording: { subject: 'S', preheader: 'p', blocks: [picture] } })).toEqual(['unsaid-picture body']);
    const text = (words: string) => found({ isEmail: false, wording: plainDocument('', words), subject: '' });
    expect(text('Doors at eight. The concert will end late.')).toEqual(['no-way-out body']);
    expect(text('Doors at eight. STOP ends this.')).toEqual([]);
    expect(text('')).toEqual([]);
  });
});
