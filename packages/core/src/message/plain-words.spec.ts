import { personFields } from './fields';
import { holdsAddress, plainLine, withoutAddresses } from './plain-words';

describe('what strangers typed', () => {
  const addresses = [
    'https://evil.example/win',
    'www.evil.example',
    'evil.example',
    'a@b.example',
    'HTTP://X',
    'win.prize/now',
  ];
  const names = ['Ana', 'J.R. Almeida', 'Dr.Silva', 'Núñez-O’Hara', '李小龙', 'Anna-Maria St.John', 'Zoë <b>'];
  it('knows an address from a name', () => {
    expect(addresses.filter((text) => !holdsAddress(text))).toEqual([]);
    expect(names.filter(holdsAddress)).toEqual([]);
  });
  it('drops control characters and marks that turn the direction of text', () => {
    expect(plainLine(' a\u0000b\r\nBcc: x\u202Etxt.exe\u2069 ')).toBe('a b Bcc: x txt.exe');
  });
  it('writes no address of theirs into a message', () => {
    expect(withoutAddresses('Ana https://evil.example/win Lopes')).toBe('Ana Lopes');
    expect(personFields('https://evil.example Ana')).toEqual({
      ...{ 'person.name': 'Ana', 'person.firstName': 'Ana', 'person.lastName': '' },
    });
  });
});
