import fc from 'fast-check';
import Papa from 'papaparse';
import {
  chartMessage,
  blankHost,
  hostFindings,
  modelOfHost,
  readChart,
  readChartMessage,
  readMessageHost,
  readRange,
  type MessageHost,
} from '@rondo/core/host';
import { applySeries, bind, seriesOf, type Action, type Profile } from '@rondo/core/profile';
import { Know } from '@rondo/core/round';
import {
  LinkDecoder,
  MessageMap,
  STOCK_SURFACES,
  Sender,
  topOf,
  type Pattern,
  type Surface,
} from '@rondo/core/surface';
import { Room } from '../testing/room.js';
import type { PlainHost } from './index.js';

// Written as makers publish their controller charts; names, and the synth, are invented.
const CHART = `Parameter,CC#,Range,Feedback
Cutoff,74,0-127,same
Resonance,71,0-127,same
Attack,CC 73,0-127,
"Decay, first",75,0–100,same
Octave,CC 20,3-7,same
Fine tune,CC 21+53,,same
Drone,NRPN 1024 14-bit,,same
Hold,64,0-127,none
,12,,
Bad number,CC 300,,
No message,,,
Too wide,CC 3,0-900,
`;

const chartHost = (csv: string, more: Partial<MessageHost> = {}): MessageHost => ({
  ...blankHost('lantern', 'Lantern'),
  rows: [...readChart(csv).rows],
  ...more,
});

const follow = (fn: string, host = 'lantern'): Action => ({
  do: 'function',
  host,
  function: fn,
  scope: { kind: 'host' },
  behaviour: 'follow',
});
const value = (control: string, n = 1) =>
  ({ surface: `surface-${n}`, control, part: 'value' }) as const;

describe('columns of a chart', () => {
  // Headings as makers publish them; names and numbers are invented.
  const WIDE = `Section,Parameter name,CC MSB,CC LSB,Min,Max,Default,Notes
Filter,Cutoff,16,48,0,16383,16383,bright
Filter,Drive,CC74,,10,20,15,
Filter,Mode,CC#75,,0,127,,five of them
Filter,Half,76,,5,,,`;

  test('two columns for a range, one for the fine half, one for the default; the rest is left out and told', () => {
    const { rows, faults, columns } = readChart(WIDE);
    expect(columns.map(({ as }) => as)).toEqual([
      'none',
      'name',
      'message',
      'fine',
      'lowest',
      'highest',
      'rest',
      'none',
    ]);
    expect(rows.map(({ name, message, rest }) => [name, message, rest])).toEqual([
      ['Cutoff', { type: 'controllerPair', channel: 1, number: 16, lsb: 48 }, 1],
      ['Drive', { type: 'controller', channel: 1, number: 74, range: [10, 20] }, 0.5],
      ['Mode', { type: 'controller', channel: 1, number: 75 }, undefined],
    ]);
    expect(faults).toEqual([{ line: 5, why: 'It says only one end of its range.' }]);
    const model = modelOfHost({ ...blankHost('wide', 'Wide'), rows: [...rows] });
    expect(model.functions.map(({ rest }) => rest)).toEqual([1, 0.5, 0]);
  });

  test('what a column is can be said, with headings and without', () => {
    const said = ['name', 'none', 'message'] as const;
    const { rows } = readChart(WIDE, 1, [], said);
    expect(rows[0]?.name).toBe('Filter');
    expect(readChart('74,Cutoff\n71,Resonance').rows.map(({ name }) => name)).toEqual([
      'Cutoff',
      'Resonance',
    ]);
    expect(readChart('Cutoff,x,74', 1, [], said).rows).toHaveLength(1);
  });

  test('however a number is written it is the same controller', () => {
    const number = fc.integer({ min: 0, max: 127 });
    const how = fc.constantFrom('', 'CC', 'CC ', 'CC#', 'cc #', 'Controller ', 'ctrl');
    fc.assert(
      fc.property(number, how, (n, words) =>
        expect(readChartMessage(`${words}${n}`)).toEqual({
          type: 'controller',
          channel: 1,
          number: n,
        }),
      ),
    );
  });
});

describe('a chart read from CSV', () => {
  const { rows, faults } = readChart(CHART);

  test('becomes eight named parameters; what cannot be read is told by line and left out', () => {
    expect(rows.map(({ name }) => name)).toEqual([
      'Cutoff',
      'Resonance',
      'Attack',
      'Decay, first',
      'Octave',
      'Fine tune',
      'Drone',
      'Hold',
    ]);
    expect(faults.map(({ line }) => line)).toEqual([10, 11, 12, 13]);
    expect(faults.map(({ why }) => why).join(' ')).toMatch(/no name.*300 is above 127.*0–127/s);
    // RFC 4180: another reader of CSV finds the same names in the same lines.
    const { data } = Papa.parse<string[]>(CHART.trim());
    expect(data.slice(1, 9).map(([name]) => name)).toEqual(rows.map(({ name }) => name));
  });

  test('drives and follows all eight of them through bytes', () => {
    const room = new Room({
      surfaces: ['faders-8'],
      hosts: ['lantern'],
      charts: { lantern: chartHost(CHART) },
      more: (profile) =>
        rows.reduce(
          (next, { id }, i) => bind(next, 'Bind', value(`fader-${i + 1}`), follow(id)).document,
          profile,
        ),
    });
    const synth = room.world.hosts.get('host:lantern') as PlainHost;
    rows.forEach(({ id }, i) => {
      for (const place of [1, 0, 1])
        room.do(() => room.desk().moveTo(`fader-${i + 1}`, place), 20_000);
      expect([id, synth.values[synth.slotOf(id)]]).toEqual([id, 1]);
    });
    const last = room.sent
      .get('host:lantern')!
      .map((bytes) => bytes.map((b) => b.toString(16)).join(' '));
    // MIDI 1.0: 98/99 choose a parameter that is not registered, 6 and 38 carry it; LSB 53 belongs to MSB 21.
    expect(last).toContain('b0 4a 7f');
    expect(last).toContain('b0 4b 64');
    expect(last).toContain('b0 14 7');
    expect(last.join(' | ')).toContain('b0 15 7f | b0 35 7f');
    expect(last.join(' | ')).toContain('b0 63 8 | b0 62 0 | b0 6 7f | b0 26 7f');
  });

  test('a host is read back as it was written; nonsense is refused with its place', () => {
    const host = chartHost(CHART);
    expect(readMessageHost(JSON.parse(JSON.stringify(host)))).toEqual({ ok: true, document: host });
    const bad = readMessageHost({ ...host, ask: 'f0 12', rows: [{ ...host.rows[0], name: '' }] });
    expect(bad.ok ? [] : bad.faults.map(({ path }) => path)).toEqual(['ask', 'rows › 0 › name']);
  });

  test('two rows of one message are told, and both still send', () => {
    const host = chartHost('A,CC 7\nB,CC 7\n');
    expect(hostFindings(host).map(({ row }) => row)).toEqual(['b', 'b']);
    expect(modelOfHost(host).functions.map(({ messages }) => Object.keys(messages[0]!))).toEqual([
      ['set', 'report'],
      ['set'],
    ]);
  });

  test('any text is read or told, and what is written of a message is read as it', () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (message, range) => {
        const read = readChartMessage(message);
        expect('fault' in read ? read.fault : read.type).not.toBe('');
        expect(() => readRange(range)).not.toThrow();
        expect(() => readChart(`${message},${range},${message}`)).not.toThrow();
      }),
    );
    const n = fc.nat({ max: 127 });
    const channel = fc.integer({ min: 1, max: 16 });
    const patterns: fc.Arbitrary<Pattern>[] = [
      fc.record({ type: fc.constant('controller' as const), channel, number: n }),
      fc.record({ type: fc.constant('note' as const), channel, number: n }),
      fc.record({
        type: fc.constantFrom('nrpn' as const, 'rpn' as const),
        channel,
        number: fc.nat({ max: 16_383 }),
        bits: fc.constantFrom(7 as const, 14 as const),
      }),
      fc.record({ type: fc.constant('pitchBend' as const), channel, bits: fc.constant(14) }),
      fc
        .record({ type: fc.constant('controllerPair' as const), channel, number: n, lsb: n })
        .filter(({ number, lsb }) => number !== lsb),
    ];
    fc.assert(
      fc.property(fc.oneof(...patterns), (pattern) => {
        expect(readChartMessage(chartMessage(pattern))).toEqual(pattern);
      }),
    );
  });
});

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
    return receiver.value;
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

/** Eight motor faders of a given resolution, without touch sense. */
const motors = (bits: number): Surface => {
  const faders = STOCK_SURFACES.get('faders-8')!;
  return {
    ...faders,
    id: 'motors-8',
    name: '8 motors',
    controls: faders.controls.map((control, i) => {
      const bend = { type: 'pitchBend' as const, channel: i + 1, bits };
      return { ...control, sends: { value: bend }, takes: { motor: bend } };
    }),
  };
};

const LEVELS_7 = Array.from({ length: 8 }, (_, i) => `Level ${i + 1},CC ${102 + i}`).join('\n');
const LEVELS_14 = Array.from({ length: 8 }, (_, i) => `Level ${i + 1},CC ${16 + i}+${48 + i}`).join(
  '\n',
);

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

describe('mirror', () => {
  test('two surfaces mirror through a host that only reports changes, whoever moves', () => {
    const room = new Room({
      surfaces: ['motors-8', 'harrow-8'],
      hosts: ['lantern'],
      own: { 'motors-8': motors(14) },
      charts: { lantern: chartHost(LEVELS_14, { tells: 'changes' }) },
      more: (profile) => {
        const one = bind(profile, 'Bind', value('fader-1', 1), follow('level1')).document;
        return bind(one, 'Bind', value('fader-5', 2), follow('level1')).document;
      },
    });
    const synth = room.world.hosts.get('host:lantern') as PlainHost;
    for (const place of [0.2, 0.9, 0.35]) {
      room.do(() => room.desk(1).moveTo('fader-1', place), 1_500_000);
      expect(room.desk(2).position('fader-5')).toBeCloseTo(place, 2);
      room.slide('fader-5', 1 - place, 2).run(1_000_000);
      expect(room.desk(1).position('fader-1')).toBeCloseTo(1 - place, 2);
      expect(synth.values[synth.slotOf('level1')]).toBeCloseTo(1 - place, 2);
      room.do(() => synth.set(synth.slotOf('level1'), 0.5), 1_500_000);
      expect(room.desk(1).position('fader-1')).toBeCloseTo(0.5, 3);
      expect(room.desk(2).position('fader-5')).toBeCloseTo(0.5, 2);
    }
    // Nothing goes round once all is still.
    const sent = () => [...room.sent.values()].reduce((sum, list) => sum + list.length, 0);
    room.run(12_000_000);
    const still = sent();
    room.run(1_000_000);
    // But for the slow refresh of what is shown, one output of each surface every tenth of a second.
    expect(sent() - still).toBeLessThanOrEqual(24);
    expect(room.notices('cycle')).toEqual([]);
  });
});

describe('what is known of a message host', () => {
  const host = (more: Partial<MessageHost>) =>
    new Room({
      surfaces: ['cobble-64'],
      hosts: ['lantern'],
      charts: {
        lantern: chartHost('Drone,CC 20', {
          ...more,
          rows: readChart('Name,Message,Kind\nDrone,CC 20,toggle').rows as MessageHost['rows'],
        }),
      },
      more: (profile) =>
        bind(
          profile,
          'Bind',
          { surface: 'surface-1', control: 'pad-1', part: 'push' },
          {
            ...(follow('drone') as Extract<Action, { do: 'function' }>),
            behaviour: 'toggle',
          },
        ).document,
    });

  test('one that tells nothing is assumed to have what it was sent, and may look so', () => {
    const room = host({ tells: 'nothing' });
    expect(room.belief('drone').know).toBe(Know.Unknown);
    room.press('pad-1');
    expect(room.belief('drone')).toMatchObject({ know: Know.Assumed, value: 1 });
    const lit = room.light('pad-1');
    expect(lit).toBeGreaterThan(0);
  });

  test('one that can be asked is asked on connect and by hand', () => {
    const room = host({ tells: 'all', ask: 'F0 7D 01 F7' });
    const asked = () =>
      (room.sent.get('host:lantern') ?? []).filter((bytes) => bytes[0] === 0xf0).length;
    expect(room.belief('drone').know).toBe(Know.Known);
    const { engine } = room.world;
    const link = engine.linkOf('host:lantern');
    const before = asked();
    expect(engine.askAgain(link, room.world.time)).toBe(true);
    room.run(100_000);
    expect(asked()).toBe(before + 1);
    room.world.plug(link, false);
    room.run(100_000);
    expect(room.belief('drone').know).toBe(Know.Unknown);
    room.world.plug(link, true);
    room.run(300_000);
    expect(room.belief('drone').know).toBe(Know.Known);
  });
});

test('text goes out as SysEx on entering a layer, made from a template, 7-bit and never too long', () => {
  const room = new Room({
    surfaces: ['cobble-64'],
    hosts: ['lantern'],
    charts: { lantern: chartHost('Drone,CC 20') },
    more: (profile) => ({
      ...profile,
      layers: {
        ...profile.layers,
        fog: {
          id: 'fog',
          label: 'Föhn & fog',
          enter: [
            {
              do: 'send',
              to: { host: 'lantern' },
              message: 'F0 7D 10 text 00 F7',
              text: '{layer} of {profile}',
            },
          ],
        },
      },
      layerOrder: [...profile.layerOrder, 'fog'],
    }),
  });
  room.world.engine.setLayer('fog', true, room.world.time);
  room.run(100_000);
  const [sysex] = room.sent.get('host:lantern')!.filter(([status]) => status === 0xf0);
  expect(String.fromCharCode(...sysex.slice(3, -2))).toBe('Fohn & fog of Room');
  expect(sysex.slice(-2)).toEqual([0, 0xf7]);
});

test('a chart that says 14-bit gets 14 bits or is refused, never 7 in silence', () => {
  fc.assert(
    fc.property(fc.nat(127), (number) => {
      const read = readChartMessage(`CC ${number} 14-bit`);
      // MIDI 1.0: controllers 0–31 have their low halves 32 further on.
      if (number < 32)
        expect(read).toEqual({ type: 'controllerPair', channel: 1, number, lsb: number + 32 });
      else expect(read).toHaveProperty('fault');
    }),
  );
  expect(readChartMessage('CC 74+106 14-bit')).toMatchObject({ type: 'controllerPair', lsb: 106 });
  expect(readChartMessage('note 60 14-bit')).toHaveProperty('fault');
  expect(readChartMessage('bend 14-bit')).toMatchObject({ type: 'pitchBend', bits: 14 });
});

test('a chart of OSC addresses is read as published charts have them, and written so that it reads the same', () => {
  const { rows, faults } = readChart(`Name,Message,Range,Kind,Default
Grand master,/grand,-60-6,,
Dimmer,/dim integer 0 to 255,,,
Tilt,/head/1/xy argument 2 -1.5 to 1.5,,,0
Blackout,/blackout boolean,,,
Cue,/cue long 1 to 999,,,
Wrong,/a b,,,
Pattern,/a*,,,
Place,/a argument 40,,,`);
  expect(rows.map(({ kind, message, rest }) => [kind, message, rest])).toEqual([
    [
      'continuous',
      { type: 'osc', address: '/dim', argument: 1, as: 'integer', low: 0, high: 255 },
      undefined,
    ],
    [
      'continuous',
      { type: 'osc', address: '/head/1/xy', argument: 2, as: 'float', low: -1.5, high: 1.5 },
      0.5,
    ],
    ['toggle', { type: 'osc', address: '/blackout', argument: 1, as: 'boolean' }, undefined],
    [
      'continuous',
      { type: 'osc', address: '/cue', argument: 1, as: 'long', low: 1, high: 999 },
      undefined,
    ],
  ]);
  expect(faults.map(({ line }) => line)).toEqual([2, 7, 8, 9]);
  for (const { message } of rows) expect(readChartMessage(chartMessage(message))).toEqual(message);
});
