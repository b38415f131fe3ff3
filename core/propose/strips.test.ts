import fc from 'fast-check';
import { undo } from '@rondo/core/document';
import { STOCK_SURFACES, blankSurface, surfaceSchema, type Control } from '@rondo/core/surface';
import { LAST_STRIP, inStrip, rowsOf, stripsOf } from './strips';

const control = (id: string, kind: Control['kind'], x: number, y: number, width = 12): Control => ({
  id,
  kind,
  label: id,
  x,
  y,
  width,
  height: kind === 'fader' ? 60 : 12,
  sends: {},
  takes: {},
});

test('columns of like controls are strips, in whatever order they were drawn; a master that stands apart is none', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 3, max: 16 }),
      fc.integer({ min: 14, max: 40 }),
      fc.integer({ min: 0, max: 3 }),
      fc.infiniteStream(fc.nat()),
      (count, pitch, knobs, shuffle) => {
        const controls = [control('master', 'fader', count * pitch + 3 * pitch, 100)];
        for (let strip = 0; strip < count; strip++) {
          controls.push(control(`fader-${strip}`, 'fader', strip * pitch, 100));
          for (let row = 0; row < knobs; row++)
            controls.push(control(`knob-${strip}-${row}`, 'knob', strip * pitch, row * 20));
        }
        const order = new Map(controls.map(({ id }) => [id, shuffle.next().value as number]));
        controls.sort((a, b) => order.get(a.id)! - order.get(b.id)!);
        const strips = stripsOf({ ...blankSurface('made', 'Made'), controls });
        expect(strips.has('master')).toBe(false);
        for (let strip = 0; strip < count; strip++) {
          expect(strips.get(`fader-${strip}`)).toBe(strip);
          for (let row = 0; row < knobs; row++)
            expect(strips.get(`knob-${strip}-${row}`)).toBe(strip);
        }
      },
    ),
  );
});

test('rows are read from left to right, those that stand in an arc too', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 12 }),
      fc.integer({ min: 1, max: 3 }),
      fc.double({ min: -0.4, max: 0.4, noNaN: true }),
      (count, rows, bow) => {
        // Each stands less than half its height above or below the next.
        const made = Array.from({ length: rows * count }, (_, n) => {
          const [row, at] = [Math.floor(n / count), n % count];
          const y = row * 12 * (count + 4) + bow * 12 * Math.abs(at - (count - 1) / 2);
          return control(`pedal-${n}`, 'pedal', at * 20, y);
        });
        const read = rowsOf([...made].reverse()).map((row) => row.map(({ id }) => id));
        expect(read.flat()).toEqual(made.map(({ id }) => id));
        expect(read).toHaveLength(rows);
      },
    ),
  );
});

test('a panel that has everything twice has two strips, whatever else is on it', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 60, max: 200 }),
      fc.integer({ min: 4, max: 8 }),
      (apart, rows) => {
        const half = (side: string, x: number) =>
          Array.from({ length: rows }, (_, row) =>
            control(`${side}-${row}`, row % 2 ? 'button' : 'knob', x, row * 30),
          );
        const controls = [
          ...half('l', 10),
          ...half('r', 10 + apart),
          control('cross', 'fader', 40, 300),
        ];
        const strips = stripsOf({ controls });
        for (let row = 0; row < rows; row++)
          expect([strips.get(`l-${row}`), strips.get(`r-${row}`)]).toEqual([0, 1]);
        expect(strips.has('cross')).toBe(false);
      },
    ),
  );
  expect(stripsOf(STOCK_SURFACES.get('crosstie-2')!).get('right-fader')).toBe(1);
});

test('a surface that says its strips is believed; one without columns has none', () => {
  const desk = STOCK_SURFACES.get('harrow-8')!;
  expect(stripsOf(desk).size).toBe(desk.controls.filter((c) => c.strip !== undefined).length);
  expect(
    stripsOf({ controls: [control('a', 'fader', 0, 0), control('b', 'fader', 20, 0)] }).size,
  ).toBe(0);
});

test('a surface of more strips than can be said is sound still after one is corrected', () => {
  const controls = Array.from({ length: 100 }, (_, n) => control(`k-${n}`, 'knob', n * 20, 0));
  const wide = { ...blankSurface('wide', 'Wide'), width: 2_100, controls };
  for (const strip of [0, LAST_STRIP, LAST_STRIP + 1, null])
    expect(surfaceSchema.safeParse(inStrip(wide, ['k-1'], strip).document).success).toBe(true);
  // What is where it belongs already is no edit.
  expect(inStrip(wide, ['k-1'], 1).edit).toBeNull();
});

test('a control that is put into a strip is in it, or in none; all others stay where they were found', () => {
  const stock = [...STOCK_SURFACES.values()].filter((surface) => stripsOf(surface).size > 3);
  fc.assert(
    fc.property(
      fc.constantFrom(...stock),
      fc.nat(),
      fc.nat(),
      fc.option(fc.integer({ min: 0, max: 12 })),
      (surface, some, more, strip) => {
        const ids = [some, more].map((n) => surface.controls[n % surface.controls.length].id);
        const { document, edit } = inStrip(surface, ids, strip);
        const [before, after] = [stripsOf(surface), stripsOf(document)];
        for (const { id } of surface.controls)
          expect(after.get(id)).toBe(ids.includes(id) ? (strip ?? undefined) : before.get(id));
        if (edit) expect(undo(document, edit)).toEqual(surface);
      },
    ),
  );
});
