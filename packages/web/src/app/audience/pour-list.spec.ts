import { of, throwError } from 'rxjs';
import { AudienceApi } from '../api/audience';
import { openScreen, refusal } from '../testing/screen';
import { PourListPanel } from './pour-list';

describe('PourListPanel', () => {
  const lists = [
    { id: 1, name: 'Members', count: 5, isArchived: false },
    { id: 2, name: 'Press', count: 2, isArchived: false },
    { id: 3, name: 'Old', count: 2, isArchived: true },
  ];
  const open = async (answer: unknown = of({ done: 5, total: 5, joined: 3, isOver: true, listId: 2 })) => {
    const asked: unknown[][] = [];
    const api = { pourList: (...what: unknown[]) => (asked.push(what), answer) };
    const screen = await openScreen(PourListPanel, { listId: 1, lists }, [{ provide: AudienceApi, useValue: api }]);
    return { ...screen, asked };
  };

  it('puts a list together with another that is in use', async () => {
    const { element, type, press, asked, said } = await open();
    const offered = [...element.querySelectorAll('option')].map((one) => one.textContent?.trim());
    expect(offered).toEqual(['onto which list', 'Press']);
    await type('select', '2', 'change');
    await press('Put together');
    expect([asked, said]).toEqual([[[1, { into: 'list', listId: 2 }]], ['3 people joined it.']]);
  });

  it('copies it under a name, and says what is wrong with one', async () => {
    const { find, text, settle, asked, type } = await open(
      throwError(() => refusal({ detail: 'There is a list “Press” already.' })),
    );
    const submit = async (): Promise<void> => {
      find('form').dispatchEvent(new Event('submit', { cancelable: true }));
      await settle();
    };
    await submit();
    expect([text().includes('Give the copy a name.'), asked.length]).toEqual([true, 0]);
    await type('input', 'Press');
    await submit();
    expect(text()).toContain('There is a list “Press” already.');
  });
});
