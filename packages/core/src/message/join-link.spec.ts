import type { Block, Inline } from './document';
import { mayNeedJoinLink, needsJoinLink } from './join-link';

describe('a message that depends on the join link', () => {
  const field = (of: 'event.joinLink' | 'event.place' | 'event.title', fallback = ''): Inline => ({
    kind: 'field',
    field: of,
    fallback,
  });
  const button = (fallback = ''): Block => ({
    kind: 'button',
    label: 'Join',
    address: field('event.joinLink', fallback),
  });
  const line = (...pieces: Inline[]): Block => ({ kind: 'paragraph', line: pieces });
  const plain = (text: string): Block => ({ kind: 'plain', text });
  const online = { venue: '', joinLink: 'https://live.example/room' };
  const hybrid = { ...online, venue: 'Dome 1' };
  const here = { venue: 'Dome 1', joinLink: '' };

  const cases: [string, Block, readonly [online: boolean, hybrid: boolean, here: boolean]][] = [
    ['a button to it', button(), [true, true, true]],
    ['a button that falls back to a page', button('https://page.example'), [false, false, false]],
    ['a field of it in a line', line(field('event.joinLink')), [true, true, true]],
    ['the same with a fallback', line(field('event.joinLink', 'See you there')), [false, false, false]],
    ['typed in a text', plain('Join: {{event.joinLink}}'), [true, true, true]],
    ['typed with a fallback', plain('{{event.joinLink|See you there}}'), [false, false, false]],
    ['the place', line(field('event.place')), [true, false, false]],
    [
      'a button between two columns',
      { kind: 'columns', columns: [[], [{ ...button(), kind: 'button' } as never]] },
      [true, true, true],
    ],
    ['nothing of it', line(field('event.title')), [false, false, false]],
    ['the block that says when and where', { kind: 'event' }, [false, false, false]],
    [
      'a button for those who said yes',
      { ...button(), only: { kind: 'reply', replies: ['accepted'] } },
      [false, false, false],
    ],
    ['a button only if it is online', { ...button(), only: { kind: 'online' } }, [true, true, false]],
    ['a button only where there is a place', { ...button(), only: { kind: 'in-place' } }, [false, true, true]],
    ['a button for people elsewhere', { ...button(), only: { kind: 'elsewhere' } }, [true, true, true]],
  ];
  for (const [name, block, expected] of cases)
    it(`${name}: online, hybrid, at a place: ${expected.join(', ')}`, () => {
      const document = { subject: 'Hello', blocks: [block] };
      expect([online, hybrid, here].map((facts) => needsJoinLink(document, facts))).toEqual([...expected]);
    });

  it('in the subject, and in any of its languages', () => {
    expect(needsJoinLink({ subject: 'At {{event.joinLink}}', blocks: [] }, online)).toBe(true);
    const said = { subject: 'Hello', blocks: [plain('Hello')] };
    const pt = { subject: 'Olá', blocks: [button()] };
    expect(needsJoinLink({ ...said, languages: { pt } }, online)).toBe(true);
    expect(needsJoinLink({ ...said, languages: { pt: said } }, online)).toBe(false);
  });

  it('may depend on it as long as the organisation’s blocks in it are not looked at', () => {
    const of = (...blocks: Block[]) => mayNeedJoinLink({ subject: 'Hello', blocks });
    expect([of(button()), of(plain('{{event.place}}')), of({ kind: 'house', key: 'k', name: 'Foot' })]).toEqual([
      true,
      true,
      true,
    ]);
    expect(of(plain('{{event.title}}'))).toBe(false);
  });
});
