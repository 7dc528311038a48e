import { ChangeDetectionStrategy, Component, computed, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { firstValueFrom, of } from 'rxjs';
import { openScreen } from '../../testing/screen';
import { Confirm } from '../confirm';
import { keepTyped, Unsaved } from './unsaved';

@Component({ selector: 'cv-some-form', changeDetection: ChangeDetectionStrategy.OnPush, template: `{{ text() }}` })
class SomeForm {
  readonly text = signal('');
  readonly isDone = signal(false);
  readonly key = signal('spec');
  constructor() {
    keepTyped({
      key: this.key,
      value: this.text,
      isChanged: computed(() => !this.isDone() && this.text() !== ''),
      read: (kept) => (typeof kept === 'string' ? kept : null),
      restore: (kept) => this.text.set(kept),
    });
  }
}

describe('What is typed and not saved', () => {
  let asked: string[];
  let leaves: boolean;
  const open = async (stored?: string) => {
    asked = [];
    const screen = await openScreen(SomeForm, {}, [
      {
        provide: Confirm,
        useValue: {
          decide: ({ title }: { title: string }) => {
            asked.push(title);
            return of(leaves);
          },
        },
      },
    ]);
    if (stored !== undefined) {
      // The page is read anew: what was kept is there as the form is made.
      TestBed.resetTestingModule();
      sessionStorage.setItem('convite.typed.spec', stored);
      TestBed.configureTestingModule({});
      const fixture = TestBed.createComponent(SomeForm);
      fixture.detectChanges();
      await fixture.whenStable();
      return { ...screen, form: fixture.componentInstance, fixture };
    }
    return { ...screen, form: screen.fixture.componentInstance };
  };
  const kept = (): string | null => sessionStorage.getItem('convite.typed.spec');

  it('is there again after a reload, and whatever else stands in storage is not', async () => {
    expect((await open('"Half typed"')).form.text()).toBe('Half typed');
    for (const stored of ['{', '7', 'null']) {
      TestBed.resetTestingModule();
      expect((await open(stored)).form.text())
        .withContext(stored)
        .toBe('');
    }
  });

  it('is gone when a form is closed that was saved, even at that very moment', async () => {
    const { form, settle, fixture } = await open();
    form.text.set('Half typed');
    await settle();
    expect(kept()).toBe('"Half typed"');
    form.isDone.set(true);
    fixture.destroy();
    expect(kept()).toBeNull();
  });

  it('asks before it is left, and is dropped only when that is wanted', async () => {
    const { form, settle } = await open();
    const unsaved = TestBed.inject(Unsaved);
    expect([await firstValueFrom(unsaved.mayLeave()), asked.length]).toEqual([true, 0]);
    form.text.set('Half typed');
    await settle();
    leaves = false;
    expect([await firstValueFrom(unsaved.mayLeave()), kept()]).toEqual([false, '"Half typed"']);
    leaves = true;
    expect([await firstValueFrom(unsaved.mayLeave()), kept()]).toEqual([true, null]);
    form.text.set('Again');
    await settle();
    unsaved.forgetAll();
    expect(kept()).toBeNull();
  });
});
