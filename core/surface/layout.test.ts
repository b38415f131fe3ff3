import fc from 'fast-check';
import { undo } from '@rondo/core/document';
import {
  EDGES,
  STOCK_SURFACES,
  align,
  blankSurface,
  countLabel,
  distribute,
  findingsOf,
  makeRun,
  moveBy,
  namesFrom,
  place,
  remove,
  renameAll,
  resizeBy,
  reverse,
  surfaceSchema,
  type Surface,
} from './index.js';

const box = STOCK_SURFACES.get('burrow-14')!;
const ids = box.controls.map(({ id }) => id);
const some = fc.uniqueArray(fc.constantFrom(...ids), { minLength: 3 });
const at = (surface: Surface, id: string) => surface.controls.find((c) => c.id === id)!;

test('every edit keeps the surface sound and is undone to the byte', () => {
  const by = fc.integer({ min: -500, max: 500 });
  const edits = fc.oneof(
    fc.tuple(some, by, by).map(([list, x, y]) => moveBy(box, list, x, y)),
    fc.tuple(some, by, by).map(([list, x, y]) => resizeBy(box, list, x, y)),
    fc.tuple(some, fc.constantFrom(...EDGES)).map(([list, edge]) => align(box, list, edge)),
    fc
      .tuple(some, fc.constantFrom('x' as const, 'y' as const))
      .map(([list, along]) => distribute(box, list, along)),
    some.map((list) => remove(box, list)),
    fc.tuple(some, fc.string({ maxLength: 60 })).map(([list, text]) => renameAll(box, list, text)),
    fc
      .record({
        total: fc.integer({ min: -3, max: 200 }),
        rows: fc.integer({ min: -3, max: 9 }),
        apart: by,
        dx: by,
        dy: by,
        channelBy: fc.integer({ min: -20, max: 20 }),
        numberBy: fc.integer({ min: -200, max: 200 }),
      })
      .map((run) => makeRun(box, [ids[0]], run)),
  );
  fc.assert(
    fc.property(edits, ({ document, edit }) => {
      if (edit) expect(undo(document, edit)).toEqual(box);
      const placed = document.controls.every(
        (c) => Math.abs(c.x) < 10_000 && Math.abs(c.y) < 10_000,
      );
      if (placed && document.controls.length <= 500)
        expect(surfaceSchema.safeParse(document).success).toBe(true);
    }),
  );
});

test('distributed controls have equal gaps, or equal steps where they overlap; order and outermost stay', () => {
  fc.assert(
    fc.property(some, (list) => {
      const { document } = distribute(box, list, 'x');
      const sorted = (surface: Surface) =>
        surface.controls.filter((c) => list.includes(c.id)).sort((a, b) => a.x - b.x);
      const after = sorted(document);
      const before = sorted(box);
      const steps = after.slice(1).map((c, i) => c.x - after[i].x);
      const gaps = steps.map((step, i) => step - after[i].width);
      const differ = (all: number[]) => Math.max(...all) - Math.min(...all);
      // Places are rounded.
      expect(Math.min(differ(gaps), differ(steps))).toBeLessThan(0.05);
      if (differ(gaps) < 0.05 && differ(steps) > 0.05)
        expect(Math.min(...gaps)).toBeGreaterThan(-0.05);
      expect(after[0].x).toBe(before[0].x);
      expect(after.map(({ id }) => id)).toEqual(before.map(({ id }) => id));
      expect(after[after.length - 1].x).toBe(before[before.length - 1].x);
    }),
  );
});

test('aligning brings an edge of all to one line', () => {
  const { document } = align(box, ['knob-1', 'fader-1', 'button-1'], 'right');
  const rights = ['knob-1', 'fader-1', 'button-1']
    .map((id) => at(document, id))
    .map((c) => c.x + c.width);
  expect(new Set(rights).size).toBe(1);
});

test('a numbered run counts labels and messages, by number or by channel', () => {
  const one = place(blankSurface('s', 'S'), 'knob', 'knob', 10, 10).document;
  const taught = {
    ...one,
    controls: [
      {
        ...one.controls[0],
        sends: { value: { type: 'controller' as const, channel: 1, number: 0x1e } },
      },
    ],
  };
  const run = { total: 4, rows: 1, apart: 0, dx: 25, dy: 0, channelBy: 0, numberBy: 1 };
  const byNumber = makeRun(taught, ['knob-1'], run).document;
  expect(byNumber.controls.map(({ label }) => label)).toEqual([
    'Knob 1',
    'Knob 2',
    'Knob 3',
    'Knob 4',
  ]);
  expect(byNumber.controls.map(({ sends }) => sends.value)).toEqual(
    [0x1e, 0x1f, 0x20, 0x21].map((number) => ({ type: 'controller', channel: 1, number })),
  );
  expect(findingsOf(byNumber)).toEqual([]);
  const byChannel = makeRun(taught, ['knob-1'], {
    ...run,
    total: 20,
    channelBy: 1,
    numberBy: 0,
    dx: 0,
  });
  expect(byChannel.document.controls[15].sends.value).toMatchObject({ channel: 16 });
  // Beyond channel 16 there is nothing to send; the control is there and says so.
  expect(byChannel.document.controls[16].sends).toEqual({});
});

test('a run of several rows is a grid on the panel, which grows to hold it; what stands one below the other is of one strip', () => {
  fc.assert(
    fc.property(
      fc.record({
        total: fc.integer({ min: 1, max: 16 }),
        rows: fc.integer({ min: 1, max: 8 }),
        apart: fc.integer({ min: 20, max: 60 }),
        by: fc.integer({ min: 20, max: 60 }),
        down: fc.boolean(),
      }),
      ({ total, rows, apart, by, down }) => {
        const one = place(blankSurface('s', 'S'), 'pad', 'pad', 10, 10).document;
        const first = { ...one.controls[0], strip: 0 };
        const run = { total, rows, apart, channelBy: 0, numberBy: 0 };
        const way = down ? { dx: 0, dy: by } : { dx: by, dy: 0 };
        const { document } = makeRun({ ...one, controls: [first] }, [first.id], { ...run, ...way });
        const { controls } = document;
        expect(controls).toHaveLength(total * rows);
        const columns = new Map<number, Set<number>>();
        for (const { x, strip } of controls)
          columns.set(x, (columns.get(x) ?? new Set()).add(strip!));
        expect(columns.size).toBe(down ? rows : total);
        expect([...columns.values()].map((strips) => [...strips])).toEqual(
          [...columns.keys()].map((_, column) => [column]),
        );
        expect(new Set(controls.map(({ x, y }) => `${x} ${y}`)).size).toBe(controls.length);
        expect(findingsOf(document).filter(({ kind }) => kind === 'outside')).toEqual([]);
        expect(document.width).toBeGreaterThanOrEqual(one.width);
        expect(surfaceSchema.safeParse(document).success).toBe(true);
      },
    ),
  );
});

test.each([
  ['Knob 1', 2, 'Knob 3'],
  ['CC 08 left', 3, 'CC 11 left'],
  ['Play', 1, 'Play 2'],
])('%s counted up by %i is %s', (label, by, counted) => {
  expect(countLabel(label, by)).toBe(counted);
});

test('names by pattern count where # stands, in rows from the top left', () => {
  expect(namesFrom('Send ##', 3)).toEqual(['Send 01', 'Send 02', 'Send 03']);
  const { document } = renameAll(box, ['knob-9', 'knob-1', 'knob-2'], 'Send');
  expect(['knob-1', 'knob-2', 'knob-9'].map((id) => at(document, id).label)).toEqual([
    'Send 1',
    'Send 2',
    'Send 3',
  ]);
});

test('an encoder is reversed in one step, and back', () => {
  const desk = STOCK_SURFACES.get('harrow-8')!;
  const once = reverse(desk, 'encoder-1').document;
  expect(at(once, 'encoder-1').sends.value).toMatchObject({ reversed: true });
  expect(at(reverse(once, 'encoder-1').document, 'encoder-1').sends.value).toMatchObject({
    reversed: false,
  });
  expect(reverse(desk, 'fader-1').edit).toBeNull();
});
