import fc from 'fast-check';
import { modelOfHost } from '@rondo/core/host';
import { applySeries, bind, seriesOf, type Profile } from '@rondo/core/profile';
import { LinkDecoder, MessageMap, Sender, topOf, type Pattern } from '@rondo/core/surface';
import { Room } from '../testing/room.js';
import type { PlainHost } from '@rondo/core/standin';
import { chartHost, follow, value } from '../testing/chart-host.js';
import { motors, LEVELS_7, LEVELS_14 } from '../testing/motor-surface.js';

describe('conversions keep what there is to keep', () => {
  const n = { channel: 1, number: 7 } as const;
  const KINDS: Record<string, Pattern> = {
    note: { type: 'note', ...n },
    controller: { type: 'controller', ...n },
    'controllers 0–100': { type: 'controller', ...n, range: [0, 100] },
    'controllers 100–20': { type: 'controller', ...n, range: [100, 20] },
    '14-bit controllers': { type: 'controllerPair', ...n, lsb: 39 },
    '14-bit parameter': { type: 'nrpn', channel: 1, number: 300, bits: 14 },
    'bend of 14 bits': { type: 'pitchBend', channel: 1, bits: 14 },
    'bend of 10 bits': { type: 'pitchBend', channel: 1, bits: 10 },
  };
  const stepsOf = (pattern: Pattern) =>
    'range' in pattern && pattern.range
      ? Math.abs(pattern.range[1] - pattern.range[0])
      : topOf(pattern);
  /** A share goes over the wire as one kind and is read from its bytes. */
  const through = (pattern: Pattern, share: number): number => {
    const bytes = new Uint8Array(16);
    const sender = new Sender([pattern]);
    const length = sender.write(0, sender.wire(0, share), bytes, 0);
    const receiver = new LinkDecoder(Float64Array.of(0), new MessageMap([pattern]));
    for (let at = 0; at < length; at += 3)
      receiver.accept(bytes[at] | (bytes[at + 1] << 8) | (bytes[at + 2] << 16));
    return receiver.heard.value;
  };
  const kinds = fc.constantFrom(...Object.values(KINDS));

  test('from any kind to any other: to the nearest step of the coarser, both ends exactly', () => {
    fc.assert(
      fc.property(kinds, kinds, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, share) => {
        const coarse = Math.min(stepsOf(a), stepsOf(b));
        const there = through(b, through(a, share));
        expect(Math.abs(there - share)).toBeLessThanOrEqual(1 / coarse + 1e-9);
        expect(through(b, through(a, 0))).toBe(0);
        expect(through(b, through(a, 1))).toBe(1);
      }),
      { numRuns: 2_000 },
    );
  });

  test('there and back through the finer is the same again', () => {
    fc.assert(
      fc.property(kinds, kinds, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, share) => {
        fc.pre(stepsOf(b) >= stepsOf(a));
        const first = through(a, share);
        expect(through(a, through(b, first))).toBeCloseTo(first, 12);
      }),
      { numRuns: 2_000 },
    );
  });
});

describe.each([
  ['7 bits', LEVELS_7, 10, 127],
  ['14 bits', LEVELS_14, 14, 16_383],
])('a motor follows a plain controller of %s both ways', (_, csv, bits, steps) => {
  const room = () =>
    new Room({
      surfaces: ['motors-8'],
      hosts: ['lantern'],
      own: { 'motors-8': motors(bits) },
      // It tells nothing back of what it is sent: the motor is held by Rondo itself.
      charts: { lantern: chartHost(csv, { tells: 'changes' }) },
      more: (profile: Profile) => {
        const first = bind(profile, 'Bind', value('fader-1'), follow('level1')).document;
        const [binding] = first.bindingOrder;
        const spec = { binding, count: 8, controlStep: 1, along: 'number' as const, by: 1 };
        const model = modelOfHost(chartHost(csv));
        const entries = seriesOf(first, motors(bits), spec, () => model);
        return applySeries(first, 'Series', binding, entries).document;
      },
    });

  test('and stays where it is left, for eight faders made as one series', () => {
    const it = room();
    const synth = it.world.hosts.get('host:lantern') as PlainHost;
    expect(it.profile.bindingOrder).toHaveLength(8);
    for (let n = 1; n <= 8; n++) {
      const place = n / 9;
      it.do(() => it.desk().moveTo(`fader-${n}`, place), 2_000_000);
      expect(synth.values[synth.slotOf(`level${n}`)]).toBeCloseTo(
        Math.round(place * steps) / steps,
        3,
      );
      // Let go of, a motor goes to the place that it was told last.
      expect(it.desk().position(`fader-${n}`)).toBeCloseTo(place, 2);
      it.do(() => synth.set(synth.slotOf(`level${n}`), 1 - place), 2_000_000);
      expect(it.desk().position(`fader-${n}`)).toBeCloseTo(1 - place, bits === 14 ? 3 : 2);
    }
    expect(it.notices()).toEqual([]);
  });

  test('no step of the coarser side is lost on the way', () => {
    const it = room();
    const synth = it.world.hosts.get('host:lantern') as PlainHost;
    const slot = synth.slotOf('level1');
    const before = it.sent.get('host:lantern')?.length ?? 0;
    const seen = new Set<number>();
    for (let wire = 0; wire <= 200; wire++) {
      it.do(() => it.desk().moveTo('fader-1', 0.3 + wire / (bits === 14 ? 16_383 : 1_023)), 5_000);
      seen.add(Math.round(synth.values[slot] * steps));
    }
    expect(seen.size).toBe(
      bits === 14
        ? 201
        : new Set(Array.from({ length: 201 }, (_x, w) => Math.round((0.3 + w / 1023) * 127))).size,
    );
    expect(it.sent.get('host:lantern')!.length).toBeGreaterThan(before);
  });
});

describe('a hand that trembles', () => {
  // What comes in may well be what went out a moment ago: to hold the motor, its own place is sent back.
  test.each([
    ['without touch sense', 'motors-8'],
    ['with touch sense', 'harrow-8'],
  ])('at a motor %s: its last place arrives, and is where the motor stays', (_, surface) => {
    const it = new Room({
      surfaces: [surface],
      hosts: ['lantern'],
      own: { 'motors-8': motors(10) },
      charts: { lantern: chartHost(LEVELS_14, { tells: 'changes' }) },
      more: (profile) => bind(profile, 'Bind', value('fader-1'), follow('level1')).document,
    });
    const synth = it.world.hosts.get('host:lantern') as PlainHost;
    const slot = synth.slotOf('level1');
    const { engine } = it.world;
    // In the place of the simulated desk bytes as a desk sends them, and nothing that its servo would add.
    it.world.setReal(0, true);
    engine.setInputOpen(0, true, it.world.time);
    engine.setOutputOpen(0, true, it.world.time);
    const comes = (micros: number, ...bytes: number[]) => {
      engine.at(it.world.time).receive(0, Uint8Array.from(bytes), 0, bytes.length);
      it.run(micros);
    };
    const touch = (on: boolean) => {
      if (surface === 'harrow-8') comes(5_000, 0x90, 0x68, on ? 0x7f : 0);
    };
    const sent = it.sent.get('surface:surface-1') ?? [];
    it.sent.set('surface:surface-1', sent);
    fc.assert(
      fc.property(
        fc.integer({ min: 100, max: 900 }),
        fc.array(fc.nat({ max: 3 }), { minLength: 2, maxLength: 12 }),
        (from, steps) => {
          const bytesOf = (step: number) => [
            0xe0,
            ((from + step) << 4) & 0x7f,
            ((from + step) << 4) >> 7,
          ];
          touch(true);
          for (const step of steps) comes(10_000, ...bytesOf(step));
          const last = (from + steps.at(-1)!) / 1_023;
          expect(synth.values[slot]).toBeCloseTo(last, 3);
          touch(false);
          it.run(1_000_000);
          expect(synth.values[slot]).toBeCloseTo(last, 3);
          expect(sent.findLast(([status]) => status === 0xe0)).toEqual(bytesOf(steps.at(-1)!));
        },
      ),
      { numRuns: 60 },
    );
    expect(it.notices('hearsItself')).toEqual([]);
  });
});
