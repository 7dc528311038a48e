import { of } from 'rxjs';
import type { Tells } from '@convite/contract';
import { AccountApi } from '../api/account';
import { openScreen } from '../testing/screen';
import { OwnTells } from './own-tells';

describe('OwnTells', () => {
  it('keeps what is ticked, a time of day and a zone, and says what cannot be', async () => {
    const kept: Tells[] = [];
    const setTells = (tells: Tells) => {
      kept.push(tells);
      return of(null);
    };
    const tells: Tells = { kinds: ['no'], summaryAt: null, zone: '' };
    const { tick, press, type, text } = await openScreen(OwnTells, { tells }, [
      { provide: AccountApi, useValue: { setTells } },
    ]);
    await tick('somebody registers or says yes');
    await tick('somebody says no');
    await tick('every day, what it holds: what goes out, what begins, what needs somebody');
    await type('cv-zone-field input', 'Nowhere');
    await press('Keep it so');
    expect(kept).toEqual([]);
    expect(text()).toContain('There is no time zone “Nowhere”');
    await type('cv-zone-field input', 'Asia/Tokyo');
    await press('Keep it so');
    expect(kept).toEqual([{ kinds: ['yes'], summaryAt: '07:30', zone: 'Asia/Tokyo' }]);
  });
});
