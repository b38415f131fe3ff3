import fc from 'fast-check';
import { toHex } from '@rondo/core/wire';
import { Decoder } from './decode.js';

function decode(text: string) {
  const out: unknown[] = [];
  const errors: string[] = [];
  const decoder = new Decoder(
    (json) => out.push(JSON.parse(json)),
    (sentence) => errors.push(sentence),
  );
  for (const line of text.split('\n')) decoder.take(line);
  return { out, errors, bad: decoder.badLines };
}

// Statuses and fields: MIDI 1.0 Detailed Specification 4.2.1, tables I–V.
test.each([
  ['80 3c 40', { type: 'noteOff', channel: 1, note: 60, velocity: 64 }],
  ['9f 3c 00', { type: 'noteOn', channel: 16, note: 60, velocity: 0 }],
  ['a0 3c 11', { type: 'polyPressure', channel: 1, note: 60, value: 17 }],
  ['b0 07 64', { type: 'controlChange', channel: 1, controller: 7, value: 100 }],
  ['c1 05', { type: 'programChange', channel: 2, program: 5 }],
  ['d0 7f', { type: 'channelPressure', channel: 1, value: 127 }],
  ['e0 00 40', { type: 'pitchBend', channel: 1, value: 8192 }],
  ['F0 7E 00 06 01 F7', { type: 'sysex', bytes: 'f0 7e 00 06 01 f7' }],
  ['f1 35', { type: 'timeCode', value: 53 }],
  ['f2 01 02', { type: 'songPosition', value: 257 }],
  ['f3 03', { type: 'songSelect', value: 3 }],
  ['f6', { type: 'tuneRequest' }],
  ['f8', { type: 'clock' }],
  ['fa', { type: 'start' }],
  ['fb', { type: 'continue' }],
  ['fc', { type: 'stop' }],
  ['fe', { type: 'activeSensing' }],
  ['ff', { type: 'reset' }],
])('%s', (line, message) => {
  expect(decode(line).out).toEqual([message]);
});

test('each port is one stream; a message has the time of its last byte; real time keeps its own', () => {
  const { out } = decode(
    ['0,desk,90 3c', '1.5,pads,b0 07 64', '2,desk,f8', '3,desk,40 3d 41', '4,pads,08 01'].join(
      '\r\n',
    ),
  );
  expect(out).toEqual([
    { t: 1.5, port: 'pads', type: 'controlChange', channel: 1, controller: 7, value: 100 },
    { t: 2, port: 'desk', type: 'clock' },
    { t: 3, port: 'desk', type: 'noteOn', channel: 1, note: 60, velocity: 64 },
    { t: 3, port: 'desk', type: 'noteOn', channel: 1, note: 61, velocity: 65 },
    { t: 4, port: 'pads', type: 'controlChange', channel: 1, controller: 8, value: 1 },
  ]);
});

test('bad lines add no bytes, are named by number, and the rest is read', () => {
  const { out, errors, bad } = decode('90 3c\nzz\n\n1,desk\n-1,desk,f8\n1,,f8\n90 3\n40');
  expect(out).toEqual([{ type: 'noteOn', channel: 1, note: 60, velocity: 64 }]);
  expect(errors.map((sentence) => /^Line (\d+): /.exec(sentence)?.[1])).toEqual([
    '2',
    '4',
    '5',
    '6',
    '7',
  ]);
  expect(bad).toBe(5);
});

test('a port may have commas in its name', () => {
  expect(decode('7,Desk, the big one,f8').out).toEqual([
    { t: 7, port: 'Desk, the big one', type: 'clock' },
  ]);
});

test('any bytes, however they are laid out in lines, give the same messages', () => {
  fc.assert(
    fc.property(fc.uint8Array({ minLength: 1 }), fc.integer({ min: 1, max: 7 }), (bytes, width) => {
      const lines = [];
      for (let at = 0; at < bytes.length; at += width)
        lines.push(toHex(bytes, at, Math.min(bytes.length, at + width)));
      expect(decode(lines.join('\n')).out).toEqual(decode(toHex(bytes)).out);
    }),
  );
});
