import { mailboxKey } from './mailbox';

describe('mailboxKey', () => {
  const rows: readonly (readonly [string, string])[] = [
    ['ana@x.example', 'ana@x.example'],
    ['Ana@X.example', 'ana@x.example'],
    ['ana+1@x.example', 'ana+@x.example'],
    ['ana+2+3@x.example', 'ana+@x.example'],
    // Nothing before the plus names nobody to fold into.
    ['+ana@x.example', '+ana@x.example'],
    ['"a@b"+c@x.example', '"a@b"+@x.example'],
    // Texts are counted by number and kind.
    ['+447700900123 help', '+447700900123 help'],
    ['', ''],
  ];
  for (const [address, key] of rows) it(`of ${address || 'nothing'}`, () => expect(mailboxKey(address)).toBe(key));
});
