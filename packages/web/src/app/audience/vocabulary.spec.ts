import { of, throwError } from 'rxjs';
import { VocabularyApi } from '../api/vocabulary';
import { openScreen, refusal } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { VocabularyPage } from './vocabulary';

describe('VocabularyPage', () => {
  const open = async (over: object = {}) => {
    const acts: unknown[][] = [];
    const does =
      (what: string, answer: unknown = of(null)) =>
      (...how: unknown[]) => (acts.push([what, ...how]), answer);
    const api = {
      read: () =>
        of({
          fields: [{ id: 4, name: 'Seat', type: 'text', usedBy: [{ kind: 'segment', name: 'Seated' }] }],
          topics: [{ topic: 'moon', usedBy: [] }],
        }),
      addField: does('add field'),
      renameField: does('rename'),
      removeField: does('remove field', of({ done: 3, isOver: true })),
      addTopic: does('add topic'),
      removeTopic: does('remove topic'),
      ...over,
    };
    const screen = await openScreen(VocabularyPage, {}, [
      { provide: VocabularyApi, useValue: api },
      { provide: Confirm, useValue: { ask: () => of(true) } },
    ]);
    const submit = async (label: string): Promise<void> => {
      screen.find(`section[aria-label="${label}"] > form`).dispatchEvent(new Event('submit', { cancelable: true }));
      await screen.settle();
    };
    return { ...screen, acts, submit };
  };

  it('makes, renames and takes out fields and topics; what uses them stands beside them', async () => {
    const { type, press, submit, acts, text, find, settle } = await open();
    expect(text()).toContain('segment “Seated”');
    await type('input[aria-label="Name of a new field"]', ' Booked for ');
    await type('select[aria-label="What it holds"]', 'date', 'change');
    await submit('Fields');
    await type('input[aria-label="A new topic"]', 'camps');
    await submit('Topics');
    await press('Rename');
    await type('input[aria-label="Name of the field"]', 'Place');
    find('cv-table form').dispatchEvent(new Event('submit', { cancelable: true }));
    await settle();
    await press('Take out …');
    find('section[aria-label="Topics"] button.link').click();
    await settle();
    expect(acts).toEqual([
      ['add field', { name: 'Booked for', type: 'date' }],
      ['add topic', 'camps'],
      ['rename', 4, 'Place'],
      ['remove field', 4],
      ['remove topic', 'moon'],
    ]);
  });

  it('says what is in the way, and what is missing', async () => {
    const inUse = throwError(() => refusal({ detail: 'It is used by the segment “Seated”. Take it out there first.' }));
    const { press, text, submit } = await open({ removeField: () => inUse });
    await submit('Topics');
    expect(text()).toContain('Give the topic a name.');
    await press('Take out …');
    expect(text()).toContain('used by the segment “Seated”. Take it out there first.');
  });
});
