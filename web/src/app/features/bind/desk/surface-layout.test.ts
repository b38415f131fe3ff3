import { signal } from '@angular/core';
import { neapRink, nineFerriesMix, type Profile } from '@rondo/core/profile';
import { STOCK_SURFACES, inputsOf, mainPart, type Surface } from '@rondo/core/surface';
import fc from 'fast-check';
import { NOTHING_OWN, libraryWith } from '../../../engine/library';
import { Names } from '../names';
import { Stack } from '../round/stack';
import { SurfaceLayout } from './surface-layout';

const library = libraryWith(NOTHING_OWN);
/** Smaller letters are not read on a screen, in pixels: a rule of this page (see the laws of its screens). */
const LEAST = 10;

/** The drawing of a surface of a profile, so large that a millimetre takes so many pixels. */
function layout(profile: Profile, id: string, surface: Surface, scale: number, bank: number) {
  return new SurfaceLayout({
    surface: signal(surface),
    surfaceId: signal(id),
    stack: signal(new Stack(profile, profile.layerOrder[0], new Set(), [])),
    names: signal(new Names(profile, library)),
    bank: signal(bank),
    least: signal(LEAST / scale),
  });
}

/** Every surface of the demo profiles, and every one that ships, with nothing bound to it. */
const drawn = [
  ...[nineFerriesMix(), neapRink()].flatMap((profile) =>
    profile.surfaceOrder.map((id) => ({
      profile,
      id,
      surface: library.surface(profile.surfaces[id].model) as Surface,
    })),
  ),
  ...[...STOCK_SURFACES.values()].map((surface) => ({
    profile: nineFerriesMix(),
    id: 'nobody',
    surface,
  })),
];
const some = fc.record({
  what: fc.constantFrom(...drawn),
  scale: fc.double({ min: 0.4, max: 8, noNaN: true }),
  bank: fc.nat(12),
});

test('each control is drawn once, and is what can be done with it', () => {
  fc.assert(
    fc.property(some, ({ what: { profile, id, surface }, scale, bank }) => {
      const items = layout(profile, id, surface, scale, bank).items();
      const ids = (list: readonly { readonly id: string }[]) => list.map((one) => one.id).sort();
      expect(ids(items.map(({ control }) => control))).toEqual(ids(surface.controls));
      for (const { control, role, says } of items) {
        expect(role === 'img').toBe(inputsOf(surface, control).length === 0);
        expect(says).toContain(control.label);
      }
    }),
  );
});

test('whatever the size: no letter is too small to read, and no tape leaves the surface or covers another', () => {
  fc.assert(
    fc.property(some, ({ what: { profile, id, surface }, scale, bank }) => {
      const it = layout(profile, id, surface, scale, bank);
      const tapes = it.tapes();
      for (const { letter, text, x, y, width, height } of tapes) {
        expect(letter * scale).toBeGreaterThanOrEqual(LEAST - 1e-9);
        expect(text).not.toBe('');
        expect(y + height).toBeLessThanOrEqual(surface.height + 1e-9);
        expect(x + width).toBeGreaterThan(0);
      }
      tapes.forEach((one, at) => {
        for (const other of tapes.slice(at + 1)) {
          const apart =
            one.x + one.width <= other.x + 1e-9 ||
            other.x + other.width <= one.x + 1e-9 ||
            one.y + one.height <= other.y + 1e-9 ||
            other.y + other.height <= one.y + 1e-9;
          expect([one.id, other.id, apart]).toEqual([one.id, other.id, true]);
        }
      });
      for (const { legend, letter } of it.items())
        if (legend !== '') expect(letter * scale).toBeGreaterThanOrEqual(LEAST - 1e-9);
      expect(it.displayLetter() === 0 || it.displayLetter() * scale >= LEAST - 1e-9).toBe(true);
    }),
  );
});

test('what stands in a strip of displays has no tape, and what moves and reaches something has one where it can be read', () => {
  const { profile, id, surface } = drawn[0];
  const tapes = layout(profile, id, surface, 4, 0).tapes();
  const withTape = new Set(tapes.map((tape) => tape.id));
  const faders = surface.controls.filter(({ kind }) => kind === 'fader');
  expect(faders.length).toBeGreaterThan(0);
  for (const { id: fader } of faders) expect(withTape).toContain(fader);
  for (const control of surface.controls)
    if (mainPart(control.kind) !== 'value') expect(withTape).not.toContain(control.id);
});
