import { TestBed } from '@angular/core/testing';
import { openScreen } from '../../testing/screen';
import { SavedViews, type View } from './saved-views';

describe('SavedViews', () => {
  const current = { search: 'dome', status: 'draft' };
  beforeEach(() => localStorage.removeItem('convite.views.spec'));
  const open = async (now: View = current) => {
    const screen = await openScreen(SavedViews, { name: 'spec', current: now });
    const chosen: View[] = [];
    screen.fixture.componentInstance.chosen.subscribe((view) => chosen.push(view));
    const item = async (words: string): Promise<void> => {
      screen.find('button').click();
      await screen.settle();
      const found = [...document.querySelectorAll<HTMLElement>('button[mat-menu-item]')].find((one) =>
        one.textContent?.includes(words),
      );
      if (!found) throw new Error(`nothing offered is ${words}`);
      found.click();
      await screen.settle();
    };
    return { ...screen, chosen, item };
  };

  it('keeps a view by a name, names the one that is shown, and forgets it', async () => {
    const { item, type, press, text, fixture, settle, chosen } = await open();
    await item('Keep this view');
    await type('input', 'Drafts of the dome');
    await press('Keep');
    expect(text()).toContain('Drafts of the dome');
    fixture.componentRef.setInput('current', { search: '', status: '' });
    await settle();
    expect(text()).toContain('Views');
    await item('Drafts of the dome');
    expect(chosen).toEqual([current]);
    fixture.componentRef.setInput('current', current);
    await settle();
    await item('Forget');
    expect(JSON.parse(localStorage.getItem('convite.views.spec') ?? '')).toEqual([]);
  });

  it('takes anything else that stands in storage for nothing', async () => {
    for (const stored of ['{', '7', '[{"name":1}]']) {
      localStorage.setItem('convite.views.spec', stored);
      const { text } = await open();
      expect(text()).withContext(stored).toContain('Views');
      TestBed.resetTestingModule();
    }
  });
});
