import { STOCK_SURFACES, type Control, type Surface } from '@rondo/core/surface';
import { DOES_AND_WHOSE } from '@rondo/core/wire';
import { fitPanel } from './fit';
import { View } from './view';

const of = (id: string) => STOCK_SURFACES.get(id) as Surface;
const placeOf = (surface: Surface, id: string) =>
  surface.controls.findIndex((one) => one.id === id);
const texts = (view: View) =>
  [...view.svg.querySelectorAll('text')].flatMap((line) => line.textContent || []);

test.each([
  [1_180, 820],
  [390, 799],
  [844, 390],
])(
  'at %s × %s nothing to read is smaller than ten pixels, nor taller than its place',
  (width, height) => {
    for (const surface of STOCK_SURFACES.values()) {
      const view = new View(surface);
      const { scale, left, top } = fitPanel(surface, width, height);
      view.lay(scale, left, top);
      for (const line of view.svg.querySelectorAll('text'))
        if (line.textContent)
          expect(Number(line.getAttribute('font-size')) * scale).toBeGreaterThanOrEqual(10 - 1e-6);
    }
  },
);

test('what does not fit is left out, and is there again where there is room', () => {
  const view = new View(of('crosstie-2'));
  view.lay(0.4, 0, 0);
  const few = texts(view).length;
  view.lay(4, 0, 0);
  expect(texts(view).length).toBeGreaterThan(few);
  expect(texts(view)).toContain('Left trim');
});

test('a control says what it does, whose where there is room; its name where it does nothing', () => {
  const surface = of('harrow-8');
  const view = new View(surface);
  view.lay(4, 0, 0);
  const fader = placeOf(surface, 'fader-1');
  const says = (text: string) => {
    view.take({ does: [[fader, text]] }, new Set());
    return texts(view);
  };
  expect(says(['Volume', 'A long name of a track'].join(DOES_AND_WHOSE))).not.toContain('Volume');
  expect(says(['Pan', 'Bass'].join(DOES_AND_WHOSE))).toContain('Pan Bass');
  expect(says('')).toContain('Fader 1');
});

test('what a finger has hold of stays where that has put it', () => {
  const surface = of('harrow-8');
  const view = new View(surface);
  const fader = surface.controls.find(({ id }) => id === 'fader-1') as Control;
  view.move(fader, 0.25);
  const at: [number, number][] = [[placeOf(surface, 'fader-1'), 0.75]];
  view.take({ at }, new Set([fader]));
  expect(view.positionOf(fader)).toBe(0.25);
  view.take({ at }, new Set());
  expect(view.positionOf(fader)).toBe(0.75);
});
