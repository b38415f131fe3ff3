import fc from 'fast-check';
import OSC from 'osc-js';
import {
  DEEPEST_BUNDLE,
  FURTHEST_AHEAD,
  MOST_MESSAGES,
  OSC_TYPES,
  OscStream,
  inStream,
  openPacket,
  oscMatches,
  readOscMessage,
  readOscTemplate,
  writeOscMessage,
  writeOscTemplate,
  type OscArgument,
} from './index.js';

const bytesOf = (hex: string): Uint8Array =>
  Uint8Array.from(hex.match(/../g) ?? [], (pair) => parseInt(pair, 16));
const hexOf = (bytes: Uint8Array): string => Buffer.from(bytes).toString('hex');

// OSC 1.0, “OSC Message Examples”: the bytes as the specification prints them.
const FREQUENCY = '2f6f7363696c6c61746f722f342f6672657175656e6379002c66000043dc0000';
const FOO = '2f666f6f000000002c6969736666000000' + '0003e8ffffffff68656c6c6f0000003f9df3b640b5b22d';

test('the specification’s own messages are written and read to the byte', () => {
  const frequency = writeOscMessage('/oscillator/4/frequency', [{ as: 'float', value: 440 }]);
  expect(hexOf(frequency)).toBe(FREQUENCY);
  const foo: OscArgument[] = [
    { as: 'integer', value: 1000 },
    { as: 'integer', value: -1 },
    { as: 'string', value: 'hello' },
    { as: 'float', value: 1.234 },
    { as: 'float', value: 5.678 },
  ];
  expect(hexOf(writeOscMessage('/foo', foo))).toBe(FOO);
  const read = readOscMessage(bytesOf(FOO));
  expect(read?.tags).toBe('iisff');
  expect(read?.values).toEqual([1000, -1, 'hello', Math.fround(1.234), Math.fround(5.678)]);
});

const argument = fc.oneof(
  fc.record({ as: fc.constant('float' as const), value: fc.float({ noNaN: true }) }),
  fc.record({ as: fc.constant('double' as const), value: fc.double({ noNaN: true }) }),
  fc.record({ as: fc.constant('integer' as const), value: fc.integer() }),
  fc.record({ as: fc.constant('long' as const), value: fc.integer() }),
  fc.record({ as: fc.constant('boolean' as const), value: fc.constantFrom(0, 1) }),
  fc.record({ as: fc.constant('string' as const), value: fc.stringMatching(/^[ -~]{0,20}$/) }),
);
const address = fc.stringMatching(/^(\/[a-z0-9_.]{1,8}){1,4}$/);

test('what is written another package reads, and what it writes is read (OSC 1.0)', () => {
  fc.assert(
    fc.property(address, fc.array(argument, { maxLength: 8 }), (at, args) => {
      const bytes = writeOscMessage(at, args);
      const theirs = new OSC.Message(at);
      theirs.unpack(new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength));
      const said = args.map(({ as, value }) => (as === 'boolean' ? value === 1 : value));
      // The other package keeps 64 bits as a big number of its own.
      const plain = (value: unknown) => (typeof value === 'bigint' ? Number(value) : value);
      expect(theirs.address).toBe(at);
      expect(theirs.args.map(plain)).toEqual(said);
      // Only whole numbers of 32 bits, floats, text and flags have a type of their own when it writes.
      const plainArgs = args.filter(
        ({ as, value }) =>
          ['integer', 'boolean', 'string'].includes(as) ||
          (as === 'float' && Math.abs(Number(value)) < 1e6 && Number(value) % 1 !== 0),
      );
      const back = new OSC.Message(at);
      for (const { as, value } of plainArgs) back.add(as === 'boolean' ? value === 1 : value);
      const read = readOscMessage(new Uint8Array(back.pack()));
      expect(read?.address).toBe(at);
      expect(read?.values).toEqual(
        plainArgs.map(({ as, value }) => (as === 'boolean' ? value === 1 : value)),
      );
    }),
    { numRuns: 300 },
  );
  expect(OSC_TYPES).toHaveLength(6);
});

/** A bundle, by the specification: `#bundle`, a time tag, each element behind its size. */
function bundle(tag: readonly [number, number], elements: readonly Uint8Array[]): Uint8Array {
  const head = new DataView(new ArrayBuffer(8));
  head.setUint32(0, tag[0]);
  head.setUint32(4, tag[1]);
  const parts = [
    Buffer.from('#bundle\0'),
    Buffer.from(head.buffer),
    ...elements.map((one) => Buffer.from(inStream(one))),
  ];
  return new Uint8Array(Buffer.concat(parts));
}
const NOW = 1_800_000_000_000_000;
/** The time tag of a moment so many µs from now: seconds since 1900 (RFC 5905). */
const tagAt = (ahead: number): [number, number] => {
  const micros = NOW + ahead;
  return [
    Math.floor(micros / 1e6) + 2_208_988_800,
    Math.round(((micros % 1e6) / 1e6) * 2 ** 32) >>> 0,
  ];
};
const beep = writeOscMessage('/beep', [{ as: 'integer', value: 1 }]);

test('bundles act at their time: at once, late ones at once, those too far ahead never', () => {
  const waits = (tag: readonly [number, number]) => openPacket(bundle(tag, [beep]), NOW);
  expect(waits([0, 1]).messages.map(({ wait }) => wait)).toEqual([0]);
  expect(waits(tagAt(-5_000_000)).messages.map(({ wait }) => wait)).toEqual([0]);
  expect(waits(tagAt(250_000)).messages[0].wait).toBeCloseTo(250_000, -1);
  expect(waits(tagAt(FURTHEST_AHEAD + 1_000))).toEqual({ messages: [], refused: ['tooFarAhead'] });
  const order = [1, 2, 3].map((value) => writeOscMessage('/n', [{ as: 'integer', value }]));
  const opened = openPacket(bundle([0, 1], [order[0], bundle([0, 1], [order[1]]), order[2]]), NOW);
  expect(opened.messages.map(({ bytes }) => readOscMessage(bytes)?.values[0])).toEqual([1, 2, 3]);
});

test('bundles a thousand deep, and packets of thousands, are bounded and said', () => {
  let deep = beep;
  for (let n = 0; n < 1_000; n++) deep = bundle([0, 1], [deep]);
  expect(openPacket(deep, NOW)).toEqual({ messages: [], refused: ['tooDeep'] });
  let allowed = beep;
  for (let n = 0; n < DEEPEST_BUNDLE; n++) allowed = bundle([0, 1], [allowed]);
  expect(openPacket(allowed, NOW).messages).toHaveLength(1);
  const many = openPacket(bundle([0, 1], new Array<Uint8Array>(3_000).fill(beep)), NOW);
  expect(many.messages).toHaveLength(MOST_MESSAGES);
  expect(many.refused).toEqual(['tooMany']);
});

test('whatever comes is read, left out or said, and never thrown', () => {
  const anything = fc.oneof(
    fc.uint8Array({ maxLength: 200 }),
    fc
      .tuple(fc.constantFrom(bytesOf(FOO), deepOf(3)), fc.nat(), fc.nat(255))
      .map(([bytes, at, byte]) => {
        const spoilt = bytes.slice();
        spoilt[at % bytes.length] = byte;
        return spoilt;
      }),
    fc.tuple(fc.constantFrom(bytesOf(FOO), deepOf(2)), fc.nat(60)).map(([b, n]) => b.slice(0, n)),
  );
  fc.assert(
    fc.property(anything, (bytes) => {
      const { messages, refused } = openPacket(bytes, NOW);
      expect(messages.length + refused.length).toBeGreaterThanOrEqual(0);
      for (const message of messages) readOscMessage(message.bytes);
      readOscMessage(bytes);
    }),
    { numRuns: 3_000 },
  );
});
function deepOf(depth: number): Uint8Array {
  return depth === 0 ? beep : bundle([0, 1], [deepOf(depth - 1), beep]);
}

test('a stream gives the same packets however it is cut, and ends at a length that cannot be', () => {
  fc.assert(
    fc.property(
      fc.array(fc.uint8Array({ minLength: 1, maxLength: 40 }), { maxLength: 12 }),
      fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1 }),
      (packets, cuts) => {
        const all = new Uint8Array(Buffer.concat(packets.map(inStream)));
        const got: number[][] = [];
        const stream = new OscStream((bytes, from, to) => got.push([...bytes.slice(from, to)]));
        for (let at = 0, n = 0; at < all.length; n++) {
          const to = Math.min(all.length, at + cuts[n % cuts.length]);
          stream.feed(all, at, to);
          at = to;
        }
        expect(got).toEqual(packets.map((packet) => [...packet]));
      },
    ),
  );
  const stream = new OscStream(() => {
    throw new Error('Nothing of it is a packet.');
  });
  stream.feed(Uint8Array.of(0xff, 0xff, 0xff, 0xff, 1, 2), 0, 6);
  expect(stream.broken).toBe(true);
});

test('address patterns mean what the specification says', () => {
  // OSC 1.0, “OSC Message Dispatching and Pattern Matching”.
  for (const [pattern, at, means] of [
    ['/{foo,bar}', '/foo', true],
    ['/{foo,bar}', '/baz', false],
    ['/a?c', '/abc', true],
    ['/a?c', '/a/c', false],
    ['/a*', '/a', true],
    ['/a*', '/abc/d', false],
    ['/[a-c]x', '/bx', true],
    ['/[!a-c]x', '/bx', false],
    ['/[!a-c]x', '/dx', true],
    ['/[a-]x', '/-x', true],
    ['/*/*', '/one/two', true],
    ['/[ab', '/a', false],
  ] as const)
    expect([pattern, at, oscMatches(pattern, at)]).toEqual([pattern, at, means]);
});

test('patterns agree with regular expressions of the same meaning', () => {
  const piece = fc.constantFrom('a', 'b', '/', '?', '*', '[ab]', '[!a]', '{a,ab}', '{b,}');
  const asExpression: Readonly<Record<string, string>> = {
    '?': '[^/]',
    '*': '[^/]*',
    '[ab]': '[ab]',
    '[!a]': '[^a/]',
    '{a,ab}': '(?:a|ab)',
    '{b,}': '(?:b|)',
  };
  fc.assert(
    fc.property(
      fc.array(piece, { maxLength: 7 }),
      fc.stringMatching(/^[ab/]{0,7}$/),
      (pieces, at) => {
        const expression = new RegExp(
          `^${pieces.map((one) => asExpression[one] ?? one).join('')}$`,
        );
        expect(oscMatches(pieces.join(''), at)).toBe(expression.test(at));
      },
    ),
    { numRuns: 3_000 },
  );
  // What takes for ever by going back and forth is looked at once here.
  expect(oscMatches(`/${'*a'.repeat(100)}`, `/${'a'.repeat(200)}b`)).toBe(false);
});

test('a message is typed as its address and arguments', () => {
  const template = readOscTemplate('/cue/go 3 0.5 "Opening night" true value fast');
  if ('fault' in template) throw new Error(template.fault);
  const read = readOscMessage(writeOscTemplate(template, 0.25));
  expect(read).toEqual({
    address: '/cue/go',
    values: [3, 0.5, 'Opening night', true, 0.25, 'fast'],
    tags: 'ifsTfs',
  });
  for (const wrong of ['', 'cue', '/a b*'.replace(' ', ''), '/a,b'])
    expect('fault' in readOscTemplate(wrong)).toBe(true);
});

test('a text in quotes is sent as it was typed, spaces and all', () => {
  const text = fc.string({
    unit: fc.constantFrom('a', 'B', ' ', '  ', '\t', '3', '/'),
    maxLength: 20,
  });
  fc.assert(
    fc.property(text, text, (one, other) => {
      const template = readOscTemplate(`  /cue/say   "${one}"  "${other}" `);
      if ('fault' in template) throw new Error(template.fault);
      expect(readOscMessage(writeOscTemplate(template, 0))).toMatchObject({
        address: '/cue/say',
        values: [one, other],
      });
    }),
  );
});
