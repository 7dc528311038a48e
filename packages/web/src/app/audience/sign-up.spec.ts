import { of, throwError } from 'rxjs';
import type { SignupForm } from '@convite/contract';
import { SignUpFormsApi } from '../api/sign-up-forms';
import { openScreen, refusal } from '../testing/screen';
import { blankForm, SignUpEditor } from './sign-up-editor';

const lists = [{ id: 1, name: 'Members', count: 5, isArchived: false }];
const form: SignupForm = {
  ...blankForm,
  id: 3,
  name: 'Night sky letters',
  lists: [1],
  url: 'http://convite.example/join/abc',
  html: '<form method="post"></form>',
};

describe('SignUpEditor', () => {
  const open = async (stored: SignupForm | null, answer: unknown = of(3)) => {
    const saved: unknown[][] = [];
    const api = {
      save: (...what: unknown[]) => (saved.push(what), answer),
      pictureUrl: (id: number) => `/picture/${id}`,
    };
    const screen = await openScreen(SignUpEditor, { form: stored, lists, topics: ['moon'] }, [
      { provide: SignUpFormsApi, useValue: api },
    ]);
    const submit = async (): Promise<void> => {
      screen.find('form').dispatchEvent(new Event('submit', { cancelable: true }));
      await screen.settle();
    };
    return { ...screen, saved, submit };
  };

  it('says where the form is, as an address, a picture to print, and a block for another page', async () => {
    const { text, find } = await open(form);
    expect(text()).toContain('http://convite.example/join/abc');
    expect(find<HTMLImageElement>('img').getAttribute('src')).toBe('/picture/3');
    expect(find('pre').textContent).toBe('<form method="post"></form>');
  });

  it('saves what it began with beside what is wanted', async () => {
    const { type, tick, submit, saved } = await open(form);
    await type('input[maxlength="120"]', 'Moon letters');
    await tick('also a mobile number');
    await submit();
    const { id: _, url: __, html: ___, ...was } = form;
    expect(saved).toEqual([[3, { ...was, name: 'Moon letters', asksMobile: true, was }]]);
  });

  it('asks for a heading, and for the words that one agrees to', async () => {
    const { submit, text, type, saved } = await open(null);
    await submit();
    expect(text()).toContain('Give the form a heading.');
    await type('input[maxlength="120"]', 'Letters');
    await type('input[maxlength="300"]', ' ');
    await submit();
    expect([text().includes('Say what one agrees to'), saved.length]).toEqual([true, 0]);
  });

  it('keeps what was typed when it is refused', async () => {
    const { submit, text, type, find } = await open(
      form,
      throwError(() => refusal({ detail: 'Not now.' })),
    );
    await type('input[maxlength="120"]', 'Moon letters');
    await submit();
    expect([text().includes('Not now.'), find<HTMLInputElement>('input[maxlength="120"]').value]).toEqual([
      true,
      'Moon letters',
    ]);
  });
});
