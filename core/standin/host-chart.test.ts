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
} from '@rondo/core/host';
import { bind } from '@rondo/core/profile';
import type { Pattern } from '@rondo/core/surface';
import { Room } from '../testing/room.js';
import type { PlainHost } from './index.js';
import { CHART, chartHost, follow, value } from '../testing/chart-host.js';

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

test('a fault of a chart names the line on which its row begins, whatever stands before it', () => {
  const piece = fc.constantFrom(
    ['Cutoff,74', false],
    ['', false],
    ['  , ', false],
    ['"On two,\nlines",20', false],
    ['"Three\n\nlines",21', false],
    ['Wrong,300', true],
    ['"Wrong\ntwice",301', true],
  ) as fc.Arbitrary<[string, boolean]>;
  fc.assert(
    fc.property(
      fc.boolean(),
      fc.constantFrom('\n', '\r\n'),
      fc.array(piece, { minLength: 1, maxLength: 12 }),
      (heads, newline, pieces) => {
        const all: [string, boolean][] = [
          ...(heads ? [['Name,Message', false] as [string, boolean]] : []),
          // Of nothing but empty lines nobody can tell what parts cells.
          ['First,10', false],
          ...pieces,
        ];
        let line = 1;
        const wrong = all.flatMap(([text, isWrong]) => {
          const at = line;
          line += text.split('\n').length;
          return isWrong ? [at] : [];
        });
        const csv = all.map(([text]) => text.replaceAll('\n', newline)).join(newline);
        expect(readChart(csv).faults.map((fault) => fault.line)).toEqual(wrong);
        expect(readChart(newline + newline + csv).faults.map((fault) => fault.line)).toEqual(
          wrong.map((at) => at + 2),
        );
      },
    ),
  );
});
