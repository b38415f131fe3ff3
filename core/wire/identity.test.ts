import { IDENTITY_REQUEST, fromHex, readIdentity, toHex } from './index.js';

// MIDI 1.0 Detailed Specification 4.2.1: device inquiry, request and reply.
test('the request goes to every device', () => {
  expect(toHex(IDENTITY_REQUEST)).toBe('f0 7e 7f 06 01 f7');
});

test.each([
  [
    'f0 7e 00 06 02 7d 01 02 03 00 01 00 02 09 f7',
    { manufacturer: '7d', family: 257, member: 3, version: '01 00 02 09' },
  ],
  [
    'f0 7e 10 06 02 00 01 0c 01 00 02 00 00 00 01 00 f7',
    { manufacturer: '00 01 0c', family: 1, member: 2, version: '00 00 01 00' },
  ],
])('reads %s', (hex, identity) => {
  expect(readIdentity(fromHex(hex)!)).toEqual(identity);
});

test.each([
  ['a request', 'f0 7e 7f 06 01 f7'],
  ['a short reply', 'f0 7e 00 06 02 7d 01 02 f7'],
  ['a short reply with a long manufacturer id', 'f0 7e 00 06 02 00 01 02 03 00 01 00 02 09 f7'],
  ['nothing', 'f0 f7'],
])('%s is no reply', (_, hex) => {
  expect(readIdentity(fromHex(hex)!)).toBeNull();
});
