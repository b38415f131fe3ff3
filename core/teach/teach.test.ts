import { GENERAL_MIDI } from '../testing/general-midi';
import { Dice, MAKERS, isRight, spoil, type Line, type Made } from '../testing/captures';
import { Capture, THIN, infer, type Finding } from './index';

function findings(lines: readonly Line[]): Finding[] {
  const capture = new Capture();
  for (const [t, bytes] of lines) capture.feed(t, Uint8Array.from(bytes));
  return infer(capture);
}
const ROUNDS = 60;

/** The finding for the control that the capture is about. */
const about = (made: Made, found: readonly Finding[]): Finding | undefined =>
  found.find(({ sends }) => sends.type === made.truth.type && sends.number === made.truth.number);

describe.each(MAKERS.map((make) => [make(new Dice(1)).name, make] as const))('%s', (_, make) => {
  test('clean captures: told with confidence, and never wrong with confidence', () => {
    const wrong: string[] = [];
    let confident = 0;
    for (let seed = 1; seed <= ROUNDS; seed++) {
      const made = make(new Dice(seed));
      const found = about(made, findings(made.lines));
      if (!found || found.confidence < THIN) continue;
      confident++;
      if (!isRight(found, made)) wrong.push(`seed ${seed}: ${JSON.stringify(found)}`);
    }
    expect(wrong).toEqual([]);
    expect(confident / ROUNDS).toBeGreaterThanOrEqual(0.95);
  });

  test('with loss, doubling and noise: at least 98 % right wherever it is confident', () => {
    let confident = 0;
    let right = 0;
    for (let seed = 1; seed <= ROUNDS; seed++) {
      const dice = new Dice(seed);
      const made = make(dice);
      const found = about(made, findings(spoil(made.lines, dice)));
      if (!found || found.confidence < THIN) continue;
      confident++;
      if (isRight(found, made)) right++;
    }
    expect(confident).toBeGreaterThan(ROUNDS * 0.7);
    expect(right / confident).toBeGreaterThanOrEqual(0.98);
  });
});

const bytesAt = (...rows: readonly (readonly number[])[]): Line[] =>
  rows.map((bytes, i) => [i * 100, bytes]);

test.each([
  ['one way only', bytesAt([0xb0, 20, 1], [0xb0, 20, 1], [0xb0, 20, 1], [0xb0, 20, 2]), 'encoder'],
  [
    'one long press or two',
    [
      [0, [0xb0, 20, 127]],
      [900, [0xb0, 20, 0]],
    ] as Line[],
    'button',
  ],
  ['a single message', bytesAt([0xb0, 20, 64]), 'unknown'],
  [
    '127 three times: a press or a tick',
    bytesAt([0xb0, 20, 127], [0xb0, 20, 127], [0xb0, 20, 127]),
    'button',
  ],
])('thin evidence is told as such: %s', (_, lines, kind) => {
  const [found] = findings(lines);
  expect(found.kind).toBe(kind);
  expect(found.confidence).toBeLessThan(THIN);
});

test('two controllers 32 apart that are moved one after the other are two controls', () => {
  const sweep = (number: number, from: number): Line[] =>
    Array.from({ length: 40 }, (_, i) => [from + i * 15, [0xb0, number, i * 3]]);
  expect(findings([...sweep(20, 0), ...sweep(52, 2_000)]).map(({ sends }) => sends.number)).toEqual(
    [20, 52],
  );
});

// MIDI 1.0: controllers 6 and 38 carry data only while a parameter is chosen.
test('controller 6 without a parameter is a controller', () => {
  const lines: Line[] = Array.from({ length: 40 }, (_, i) => [i * 15, [0xb0, 6, i * 3]]);
  expect(findings(lines)[0].sends).toMatchObject({ type: 'controlChange', number: 6 });
});

test('a knob that trembles elsewhere, clock and active sensing are not taken for the control', () => {
  const lines: Line[] = [];
  for (let i = 0; i < 40; i++) {
    lines.push(
      [i * 15, [0xb0, 20, i * 3]],
      [i * 15 + 3, [0xf8]],
      [i * 15 + 5, [0xb3, 90, 63 + (i % 2)]],
    );
  }
  expect(findings(lines).map(({ sends }) => sends.number)).toEqual([20]);
});

test('a general MIDI library’s (N)RPN is found as what it is', () => {
  for (const [type, choose] of [
    ['nrpn', GENERAL_MIDI.nrpn(4, 3, 17)],
    ['rpn', GENERAL_MIDI.rpn(4, 3, 17)],
  ] as const) {
    const capture = new Capture();
    for (let i = 0; i < 60; i++)
      for (const message of [...choose, ...GENERAL_MIDI.data(4, i * 270)])
        capture.feed(i * 15, Uint8Array.from(message));
    expect(infer(capture)[0].sends).toMatchObject({
      type,
      channel: 5,
      number: 3 * 128 + 17,
      resolution: 14,
    });
  }
});
