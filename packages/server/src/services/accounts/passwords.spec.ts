import { pbkdf2 } from 'node:crypto';
import { fitsPassword, hashPassword } from './passwords';

describe('passwords', () => {
  it('are checked while all of Node’s own threads are taken, by pictures or anything else', async () => {
    const hash = await hashPassword('a calm night at the dome');
    let taken = 8;
    const busy = Array.from(
      { length: taken },
      () => new Promise<void>((done) => pbkdf2('x', 'y', 1_000_000, 32, 'sha256', () => ((taken -= 1), done()))),
    );
    expect(await fitsPassword('a calm night at the dome', hash)).toBeTrue();
    // Five of them had not even begun.
    expect(taken).toBeGreaterThan(3);
    expect(await fitsPassword('another night', hash)).toBeFalse();
    expect(await fitsPassword('a calm night at the dome', null)).toBeFalse();
    await Promise.all(busy);
  });
});
