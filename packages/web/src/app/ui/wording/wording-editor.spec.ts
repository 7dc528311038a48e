import { letter, type WordingDocument } from '@convite/core';
import { openScreen } from '../../testing/screen';
import { WordingEditor } from './wording-editor';

describe('WordingEditor', () => {
  const open = async (wording: WordingDocument, problems: readonly { code: string; path: string }[] = []) => {
    const screen = await openScreen(WordingEditor, { channel: 'email', wording, problems });
    const told: WordingDocument[] = [];
    screen.fixture.componentInstance.wordingChange.subscribe((said) => {
      told.push(said);
      screen.fixture.componentRef.setInput('wording', said);
    });
    document.body.append(screen.element);
    await screen.settle();
    const choose = async (label: string, option: string): Promise<void> => {
      const fields = [...screen.element.querySelectorAll('mat-form-field')];
      fields
        .find((field) => field.textContent?.includes(label))
        ?.querySelector<HTMLElement>('mat-select')
        ?.click();
      await screen.settle();
      const found = [...document.querySelectorAll<HTMLElement>('mat-option')].find((one) =>
        one.textContent?.includes(option),
      );
      if (!found) throw new Error(`nothing offered is ${option}`);
      found.click();
      await screen.settle();
    };
    return { ...screen, told, choose };
  };
  const english = letter('Stars tonight', 'Come and see.');

  it('is written in another language beside the first, which stays as it is, and is taken out again', async () => {
    const { choose, told, type, press, find } = await open(english);
    await choose('In another language', 'Português');
    await type('input[maxlength="500"]', 'Estrelas hoje');
    expect(told.at(-1)?.subject).toBe('Stars tonight');
    expect(told.at(-1)?.languages?.pt?.subject).toBe('Estrelas hoje');
    expect(told.at(-1)?.languages?.pt?.blocks).toEqual(english.blocks);
    await press('First language');
    expect((find('input[maxlength="500"]') as HTMLInputElement).value).toBe('Stars tonight');
    await press('Português');
    await press('Take Portuguese out');
    expect(told.at(-1)).toEqual({ ...english, languages: undefined });
  });

  it('says beside a language what is wrong in it', async () => {
    const wording = { ...english, languages: { pt: { subject: '', blocks: english.blocks } } };
    const { press, text } = await open(wording, [{ code: 'required', path: 'pt.subject' }]);
    expect(text()).not.toContain('missing');
    const before = text();
    await press('Português');
    expect(text().length).toBeGreaterThan(before.length - 200);
    expect(text()).toMatch(/Fill|missing|required|needed/i);
  });

  it('has its plain text written apart, says when the message no longer says that, and makes it from the message again', async () => {
    const { press, told, fixture, text, settle } = await open(english);
    await press('Write the plain text apart');
    expect(told.at(-1)?.plain).toEqual({ text: 'Come and see.', of: 'Come and see.' });
    expect(text()).not.toContain('has been changed since');
    fixture.componentRef.setInput('wording', {
      ...letter('Stars tonight', 'Come at nine.'),
      plain: { text: 'Come!', of: 'Come and see.' },
    });
    await settle();
    expect(text()).toContain('The message has been changed since this was written');
    await press('It is right as it stands');
    expect(told.at(-1)?.plain).toEqual({ text: 'Come!', of: 'Come at nine.' });
    await press('Make it from the message again');
    expect(told.at(-1)?.plain).toBeUndefined();
  });

  it('takes a design, or none of its own', async () => {
    const { choose, told } = await open(english);
    await choose('Design', 'Ticket');
    expect(told.at(-1)?.design).toBe('ticket');
    await choose('Design', 'As the house');
    expect(told.at(-1)?.design).toBeUndefined();
  });
});
