import type { Finding } from '@rondo/core/teach';
import { dataOfTicks } from '@rondo/core/wire';

/** One message of a synthetic capture: milliseconds and bytes. */
export type Line = readonly [t: number, bytes: readonly number[]];

export interface Made {
  /** What it is, for the confusion table. */
  readonly name: string;
  readonly lines: readonly Line[];
  /** What must be found for its first control. */
  readonly truth: {
    readonly type: Finding['sends']['type'];
    readonly number?: number;
    readonly resolution?: 7 | 14;
    readonly encoding?: Finding['sends']['encoding'];
    readonly kinds: readonly Finding['kind'][];
    readonly behaviour: Finding['behaviour'];
    readonly positions?: readonly number[];
  };
}

/** Seeded numbers, so that every run is the same. */
export class Dice {
  constructor(private seed: number) {}
  /** 0…1 */
  next(): number {
    this.seed = (Math.imul(this.seed, 1_664_525) + 1_013_904_223) | 0;
    return (this.seed >>> 0) / 2 ** 32;
  }
  /** A whole number, both ends included. */
  int(from: number, to: number): number {
    return from + Math.floor(this.next() * (to - from + 1));
  }
  pick<T>(list: readonly T[]): T {
    return list[this.int(0, list.length - 1)];
  }
}

const CONTINUOUS = ['fader', 'knob'] as const;
/** Controllers that neither MIDI 1.0 nor common practice gives a job that this would be mistaken for. */
const FREE = Array.from({ length: 96 }, (_, n) => n).filter(
  (n) => ![0, 1, 4, 6, 11, 32, 33, 36, 38, 43, 64, 66, 67, 69].includes(n),
);

/** A hand moves something over its travel and back, in steps of its own speed; 0…top. */
function travel(dice: Dice, top: number): [t: number, value: number][] {
  const list: [number, number][] = [];
  let t = dice.int(0, 500);
  let at = dice.next() * top;
  let last = -1;
  for (const target of [top, 0, top * dice.next(), top * dice.next()]) {
    const speed = (top / 127) * (1 + dice.next() * 3);
    while (Math.abs(target - at) > speed) {
      at += Math.sign(target - at) * speed * (0.6 + 0.8 * dice.next());
      at = Math.max(0, Math.min(top, at));
      t += dice.int(5, 20);
      const value = Math.round(at);
      if (value !== last) list.push([t, value]);
      last = value;
    }
    t += dice.int(100, 800);
  }
  return list;
}

const presses = (dice: Dice, latching: boolean): [t: number, on: boolean][] => {
  let t = dice.int(0, 500);
  const list: [number, boolean][] = [];
  for (let n = 0; n < dice.int(4, 8); n++) {
    if (latching) list.push([t, n % 2 === 0]);
    else list.push([t, true], [t + dice.int(50, 250), false]);
    t += dice.int(500, 1_100);
  }
  return list;
};

type Maker = (dice: Dice) => Made;
const controlChange = (channel: number, number: number, value: number) => [
  0xb0 | channel,
  number,
  value,
];

const encoder =
  (encoding: 'twosComplement' | 'signMagnitude' | 'binaryOffset'): Maker =>
  (dice) => {
    const [channel, number] = [dice.int(0, 15), dice.pick(FREE)];
    const lines: Line[] = [];
    let t = 0;
    for (const way of [1, -1, 1]) {
      for (let n = 0; n < dice.int(6, 20); n++) {
        t += dice.int(8, 60);
        const ticks = way * (dice.next() < 0.75 ? 1 : dice.int(1, 6));
        lines.push([t, controlChange(channel, number, dataOfTicks(encoding, ticks))]);
      }
      t += dice.int(200, 600);
    }
    return {
      name: `encoder, ${encoding}`,
      lines,
      truth: {
        type: 'controlChange',
        number,
        resolution: 7,
        encoding,
        kinds: ['encoder'],
        behaviour: 'continuous',
      },
    };
  };

const button =
  (type: 'note' | 'controlChange', latching: boolean): Maker =>
  (dice) => {
    const channel = dice.int(0, 15);
    const number = type === 'note' ? dice.int(0, 127) : dice.pick(FREE);
    const status = (type === 'note' ? 0x90 : 0xb0) | channel;
    return {
      name: `${latching ? 'latching' : 'momentary'} button, ${type}`,
      lines: presses(dice, latching).map(([t, on]) => [t, [status, number, on ? 127 : 0]]),
      truth: { type, number, kinds: ['button'], behaviour: latching ? 'latching' : 'momentary' },
    };
  };

const onController =
  (name: string, numbers: readonly number[], kinds: readonly Finding['kind'][]): Maker =>
  (dice) => {
    const [channel, number] = [dice.int(0, 15), dice.pick(numbers)];
    return {
      name,
      lines: travel(dice, 127).map(([t, v]) => [t, controlChange(channel, number, v)]),
      truth: {
        type: 'controlChange',
        number,
        resolution: 7,
        encoding: 'absolute',
        kinds,
        behaviour: 'continuous',
      },
    };
  };

const parameter =
  (type: 'nrpn' | 'rpn', resolution: 7 | 14): Maker =>
  (dice) => {
    const [channel, number] = [dice.int(0, 15), dice.int(0, 16_000)];
    const [msb, lsb] = type === 'nrpn' ? [99, 98] : [101, 100];
    const top = resolution === 14 ? 16_383 : 127;
    const lines = travel(dice, top).flatMap(([t, v]): Line[] => [
      [t, controlChange(channel, msb, number >> 7)],
      [t, controlChange(channel, lsb, number & 127)],
      [t, controlChange(channel, 6, resolution === 14 ? v >> 7 : v)],
      ...(resolution === 14 ? [[t, controlChange(channel, 38, v & 127)] as Line] : []),
    ]);
    return {
      name: `${type}, ${resolution} bit`,
      lines,
      truth: {
        type,
        number,
        resolution,
        encoding: 'absolute',
        kinds: CONTINUOUS,
        behaviour: 'continuous',
      },
    };
  };

const bendLine = (t: number, channel: number, value: number): Line => [
  t,
  [0xe0 | channel, value & 127, value >> 7],
];

/** Every kind of control that can be told from bytes, as captures of a hand at it. */
export const MAKERS: readonly Maker[] = [
  onController('fader or knob', FREE, CONTINUOUS),
  onController('expression pedal', [4, 11], ['pedal']),
  onController('modulation wheel', [1], ['wheel']),
  (dice) => {
    const [channel, number] = [dice.int(0, 15), dice.int(0, 31)];
    const lsbFirst = dice.next() < 0.3;
    const lines = travel(dice, 16_383).flatMap(([t, v]): Line[] => {
      const pair: Line[] = [
        [t, controlChange(channel, number, v >> 7)],
        [t + 1, controlChange(channel, number + 32, v & 127)],
      ];
      return lsbFirst
        ? [
            [t, pair[1][1]],
            [t + 1, pair[0][1]],
          ]
        : pair;
    });
    const foot = [4, 11].includes(number);
    return {
      name: 'fader or knob, 14-bit pair',
      lines,
      truth: {
        type: 'controlChange',
        number,
        resolution: 14,
        encoding: 'absolute',
        kinds: foot ? ['pedal'] : number === 1 ? ['wheel'] : CONTINUOUS,
        behaviour: 'continuous',
      },
    };
  },
  parameter('nrpn', 7),
  parameter('nrpn', 14),
  parameter('rpn', 14),
  (dice) => {
    const channel = dice.int(0, 15);
    return {
      name: 'fader, pitch bend',
      lines: travel(dice, 1_023).map(([t, v]) => bendLine(t, channel, v << 4)),
      truth: { type: 'pitchBend', resolution: 14, kinds: CONTINUOUS, behaviour: 'continuous' },
    };
  },
  (dice) => {
    const channel = dice.int(0, 15);
    const lines: Line[] = [];
    let t = 0;
    for (let n = 0; n < 3; n++) {
      const peak = (dice.next() < 0.5 ? -1 : 1) * dice.int(3_000, 8_191);
      for (const share of [0.2, 0.5, 0.8, 1, 0.6, 0.2, 0]) {
        t += dice.int(8, 25);
        lines.push(bendLine(t, channel, 8_192 + Math.round(peak * share)));
      }
      t += dice.int(200, 900);
    }
    return {
      name: 'pitch wheel',
      lines,
      truth: { type: 'pitchBend', resolution: 14, kinds: ['wheel'], behaviour: 'continuous' },
    };
  },
  encoder('twosComplement'),
  encoder('signMagnitude'),
  encoder('binaryOffset'),
  button('note', false),
  button('note', true),
  button('controlChange', false),
  button('controlChange', true),
  (dice) => {
    const channel = dice.int(0, 15);
    return {
      name: 'sustain pedal',
      lines: presses(dice, false).map(([t, on]) => [t, controlChange(channel, 64, on ? 127 : 0)]),
      truth: { type: 'controlChange', number: 64, kinds: ['pedal'], behaviour: 'momentary' },
    };
  },
  (dice) => {
    const [channel, number, count] = [dice.int(0, 15), dice.pick(FREE), dice.int(3, 6)];
    const all = Array.from({ length: count }, (_, i) => Math.round((i * 127) / (count - 1)));
    const order = [...all, ...all.slice(0, -1).reverse(), ...all.slice(1)];
    let t = 0;
    return {
      name: 'switch with positions',
      lines: order.map((v) => [(t += dice.int(200, 900)), controlChange(channel, number, v)]),
      truth: {
        type: 'controlChange',
        number,
        kinds: ['switch'],
        behaviour: 'positions',
        positions: all,
      },
    };
  },
  (dice) => {
    const [channel, number] = [dice.int(0, 15), dice.int(30, 90)];
    const lines: Line[] = [];
    let t = 0;
    for (let n = 0; n < 4; n++) {
      lines.push([t, [0x90 | channel, number, dice.int(20, 126)]]);
      for (let i = 0; i < 6; i++)
        lines.push([(t += 15), [0xa0 | channel, number, dice.int(10, 120)]]);
      lines.push([(t += 20), [0x80 | channel, number, 64]]);
      t += dice.int(200, 700);
    }
    return {
      name: 'pad with pressure',
      lines,
      truth: { type: 'note', number, kinds: ['pad'], behaviour: 'momentary' },
    };
  },
  (dice) => {
    const [channel, number] = [dice.int(0, 15), dice.int(30, 90)];
    const lines: Line[] = [];
    let t = 0;
    for (let n = 0; n < 4; n++) {
      lines.push([t, [0x90 | channel, number, dice.int(20, 60) + n * 15]]);
      lines.push([(t += dice.int(80, 300)), [0x80 | channel, number, dice.int(20, 120)]]);
      t += dice.int(200, 700);
    }
    return {
      name: 'key with release velocity',
      lines,
      truth: { type: 'note', number, kinds: ['key'], behaviour: 'momentary' },
    };
  },
  (dice) => {
    const lines: Line[] = [];
    let t = 0;
    for (let n = 0; n < 3; n++) {
      lines.push([t, [0x90, 0x68, 127]]);
      for (const [, v] of travel(dice, 1_023).slice(0, 30))
        lines.push(bendLine((t += 12), 0, v << 4));
      lines.push([(t += 30), [0x90, 0x68, 0]]);
      t += dice.int(300, 900);
    }
    return {
      name: 'touch sense beside a fader',
      lines,
      truth: { type: 'note', number: 0x68, kinds: ['touch'], behaviour: 'momentary' },
    };
  },
];

/** The same capture as bad cables and busy rooms make it: messages lost and doubled, clocks, a knob that trembles. */
export function spoil(lines: readonly Line[], dice: Dice): Line[] {
  const spoilt: Line[] = [];
  for (const line of lines) {
    if (dice.next() < 0.03) continue;
    spoilt.push(line);
    if (dice.next() < 0.03) spoilt.push([line[0] + 1, line[1]]);
    if (dice.next() < 0.2) spoilt.push([line[0], [0xf8]]);
    if (dice.next() < 0.05) spoilt.push([line[0], [0xfe]]);
    if (dice.next() < 0.2) spoilt.push([line[0], [0xbf, 119, 77 + dice.int(0, 1)]]);
  }
  return spoilt;
}

/** Whether a finding says what the capture was made from. */
export function isRight(found: Finding, { truth }: Made): boolean {
  const { sends } = found;
  return (
    sends.type === truth.type &&
    sends.number === truth.number &&
    (truth.resolution === undefined || sends.resolution === truth.resolution) &&
    (truth.encoding === undefined || sends.encoding === truth.encoding) &&
    truth.kinds.includes(found.kind) &&
    found.behaviour === truth.behaviour &&
    (truth.positions === undefined || String(found.positions) === String(truth.positions))
  );
}
