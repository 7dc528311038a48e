import { of } from 'rxjs';
import { SettingsApi } from '../api/settings';
import { openScreen } from '../testing/screen';
import { WorkdayChoice, type WorkdaysChange } from './workdays';

describe('WorkdayChoice', () => {
  const open = async () => {
    const changes: WorkdaysChange[] = [];
    const api = { readHolidays: () => of({ days: ['2026-12-25', '2027-01-01'] }) };
    const screen = await openScreen(
      WorkdayChoice,
      { workdays: [1, 2, 3, 4, 5], holidays: ['2026-12-25', '2026-12-08'] },
      [{ provide: SettingsApi, useValue: api }],
    );
    screen.fixture.componentInstance.changed.subscribe((change) => changes.push(change));
    return { ...screen, changes };
  };

  it('ticks weekdays, in their order', async () => {
    const { tick, changes } = await open();
    await tick('Sunday');
    expect(changes.at(-1)?.workdays).toEqual([1, 2, 3, 4, 5, 7]);
    await tick('Monday');
    expect(changes.at(-1)?.workdays).toEqual([2, 3, 4, 5]);
  });

  it('names free days one by one, and from a calendar file, each once', async () => {
    const { type, press, find, changes, said, settle } = await open();
    await type('input.mat-datepicker-input', '2026-12-24');
    await type('input.mat-datepicker-input', '2026-12-24', 'change');
    expect(changes.at(-1)?.holidays).toEqual(['2026-12-08', '2026-12-24', '2026-12-25']);
    const chosen = new DataTransfer();
    chosen.items.add(new File(['BEGIN:VCALENDAR'], 'days.ics'));
    const input = find<HTMLInputElement>('input[type="file"]');
    input.files = chosen.files;
    input.dispatchEvent(new Event('change'));
    await settle();
    expect(changes.at(-1)?.holidays).toEqual(['2026-12-08', '2026-12-25', '2027-01-01']);
    expect(said).toEqual(['2 free days were found. Save to keep them.']);
    await press('remove');
    expect(changes.at(-1)?.holidays).toEqual(['2026-12-08']);
  });
});
