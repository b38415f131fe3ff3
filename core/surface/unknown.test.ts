import fc from 'fast-check';
import { undo } from '@rondo/core/document';
import { dropUntouched, readSurface, unknownSurface, type Surface } from './index';

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
      for (const { y, height } of document.controls)
        expect(y + height).toBeLessThanOrEqual(document.height);
      if (edit) expect(undo(document, edit)).toEqual(taught);
      else expect(touched).toHaveLength(blank.controls.length);
    }),
  );
});
