import fc from 'fast-check';
import { undo } from '@rondo/core/document';
import {
  ROW_KINDS,
  dropUntouched,
  newRow,
  readSurface,
  unknownSurface,
  type Surface,
} from './index';

test('what was taught stays, what was not goes, and undo brings it back', () => {
  const blank = unknownSurface('box', 'Box');
  expect(readSurface(blank).ok).toBe(true);
  fc.assert(
    fc.property(fc.shuffledSubarray(blank.controls.map(({ id }) => id)), (touched) => {
      const taught: Surface = {
        ...blank,
        controls: blank.controls.map((control, n) =>
          touched.includes(control.id)
            ? { ...control, sends: { value: { type: 'controller', channel: 1, number: n } } }
            : control,
        ),
      };
      const { document, edit } = dropUntouched(taught);
      expect(document.controls.map(({ id }) => id).sort()).toEqual([...touched].sort());
      expect(readSurface(document).ok).toBe(true);
      for (const { x, y, width, height } of document.controls) {
        expect(x + width).toBeLessThanOrEqual(document.width);
        expect(y + height).toBeLessThanOrEqual(document.height);
      }
      if (edit) expect(undo(document, edit)).toEqual(taught);
      else expect(touched).toHaveLength(blank.controls.length);
    }),
  );
});

test('wherever a row begins, and of what: the order stays, nothing overlaps, and a column stands in line', () => {
  const blank = unknownSurface('box', 'Box');
  const breaks = fc.array(fc.tuple(fc.nat(39), fc.constantFrom(...ROW_KINDS)), { maxLength: 6 });
  const middle = ({ y, height }: Surface['controls'][number]) => y + height / 2;
  fc.assert(
    fc.property(breaks, (list) => {
      const inOrder = [...list].sort(([a], [b]) => a - b);
      const made = inOrder.reduce((surface, [n, kind]) => {
        const { document, edit } = newRow(surface, `control-${n + 1}`, kind);
        if (edit) expect(undo(document, edit)).toEqual(surface);
        return document;
      }, blank);
      expect(readSurface(made).ok).toBe(true);
      const last = new Map(inOrder);
      made.controls.forEach((control, n) => {
        const next = made.controls.at(n + 1);
        const begins = next === undefined || last.has(n + 1);
        if (last.has(n)) expect(control.kind).toBe(last.get(n));
        else if (n > 0) expect(control.kind).toBe(made.controls[n - 1].kind);
        expect(control.y + control.height).toBeLessThanOrEqual(made.height);
        if (!next) return;
        // As the eye reads: beside it, or in a row below all of this one.
        const isBeside = middle(next) === middle(control) && next.x >= control.x + control.width;
        const isBelow = next.y >= control.y + control.height;
        expect(isBeside || isBelow).toBe(true);
        if (begins) expect(isBelow).toBe(true);
      });
      const columns = new Set(made.controls.map(({ x, width }) => x + width / 2));
      expect(columns.size).toBeLessThanOrEqual(8);
    }),
  );
});

test('what was taught stays where it is as a row begins; what nobody can say begins none', () => {
  const blank = unknownSurface('box', 'Box');
  const sends = { value: { type: 'controller' as const, channel: 1, number: 7 } };
  const taught: Surface = {
    ...blank,
    controls: blank.controls.map((control, n) => (n === 5 ? { ...control, sends } : control)),
  };
  const { document } = newRow(taught, 'control-3', 'fader');
  expect(document.controls[5]).toEqual(taught.controls[5]);
  expect(document.controls[4].kind).toBe('fader');
  expect(newRow(taught, 'control-6', 'fader').edit).toBeNull();
  expect(newRow(taught, 'no-such', 'fader').edit).toBeNull();
});
