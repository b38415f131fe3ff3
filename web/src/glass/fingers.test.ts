import fc from 'fast-check';
import { STOCK_SURFACES, mainPart, turns, type Control, type Surface } from '@rondo/core/surface';
import { Fingers, controlAt } from './fingers';
import { FINGER, fitPanel } from './fit';
import type { Habits } from './habits';

const desk = STOCK_SURFACES.get('harrow-8') as Surface;
const named = (id: string): Control => desk.controls.find((one) => one.id === id) as Control;
const middle = ({ x, y, width, height }: Control) => ({ x: x + width / 2, y: y + height / 2 });
const surfaces = [...STOCK_SURFACES.values()];

function hand(habits: Habits = { faders: 'grab', dials: 'drag' }, at = 0.5) {
  const done: string[] = [];
  const fingers = new Fingers(
    desk,
    () => habits,
    () => at,
    (control, does, value) => done.push(`${control.id} ${does} ${Math.round(value * 1e3) / 1e3}`),
  );
  return { fingers, done };
}

test('whatever fingers do, in any order, each control that was taken hold of is let go of', () => {
  const deed = fc.record({
    does: fc.constantFrom('down', 'move', 'up', 'all'),
    finger: fc.nat(9),
    x: fc.double({ min: -20, max: 600, noNaN: true }),
    y: fc.double({ min: -20, max: 400, noNaN: true }),
  });
  fc.assert(
    fc.property(
      fc.constantFrom(...surfaces),
      fc.constantFrom<Habits>(
        { faders: 'grab', dials: 'drag' },
        { faders: 'jump', dials: 'angle' },
      ),
      fc.array(deed, { maxLength: 60 }),
      (surface, habits, deeds) => {
        const held = new Map<string, number>();
        const fingers = new Fingers(
          surface,
          () => habits,
          () => 0.5,
          (control, does, value) => {
            expect(Number.isFinite(value)).toBe(true);
            if (does === 'move') expect(value >= 0 && value <= 1).toBe(true);
            if (does === 'turn') expect(Number.isInteger(value) && value !== 0).toBe(true);
            if (does !== 'touch' && does !== 'press') return;
            const key = `${does} ${control.id}`;
            held.set(key, (held.get(key) ?? 0) + (value > 0 ? 1 : -1));
          },
        );
        for (const { does, finger, x, y } of deeds) {
          if (does === 'down') fingers.down(finger, { x, y });
          else if (does === 'move') fingers.move(finger, { x, y });
          else if (does === 'up') fingers.up(finger);
          else fingers.upAll();
        }
        fingers.upAll();
        expect([...held.values()].filter((count) => count !== 0)).toEqual([]);
        expect(fingers.held.size).toBe(0);
      },
    ),
  );
});

test('the middle of every control that plays means that control, or one that lies upon it', () => {
  for (const surface of surfaces)
    for (const control of surface.controls) {
      const found = controlAt(surface, middle(control));
      if (mainPart(control.kind) === null || control.silent) continue;
      const { x, y } = middle(control);
      const isOver =
        found &&
        x >= found.x &&
        y >= found.y &&
        x <= found.x + found.width &&
        y <= found.y + found.height;
      expect([surface.id, control.id, isOver]).toEqual([surface.id, control.id, true]);
    }
});

test('a fader that is grabbed goes along; one that jumps is at the finger at once', () => {
  const fader = named('fader-1');
  const from = { x: fader.x + 2, y: fader.y + fader.height * 0.9 };
  const grabbed = hand();
  grabbed.fingers.down(1, from);
  grabbed.fingers.move(1, { ...from, y: from.y - fader.height * 0.2 });
  grabbed.fingers.up(1);
  expect(grabbed.done).toEqual(['fader-1 touch 1', 'fader-1 move 0.7', 'fader-1 touch 0']);
  const jumped = hand({ faders: 'jump', dials: 'drag' });
  jumped.fingers.down(1, from);
  expect(jumped.done).toEqual(['fader-1 touch 1', 'fader-1 move 0.1']);
});

test('an encoder is turned by angle or by drag, and pressed where the finger stays', () => {
  const encoder = named('encoder-1');
  expect(turns(desk, encoder, 'value')).toBe(true);
  const centre = middle(encoder);
  const angle = hand({ faders: 'grab', dials: 'angle' });
  angle.fingers.down(1, { x: centre.x + 5, y: centre.y });
  // A quarter turn clockwise, as the screen has it: ten ticks of nine degrees.
  angle.fingers.move(1, { x: centre.x, y: centre.y + 5 });
  angle.fingers.up(1);
  expect(angle.done).toEqual(['encoder-1 turn 10']);
  const still = hand();
  still.fingers.down(1, centre);
  still.fingers.up(1);
  expect(still.done).toEqual(['encoder-1 press 1', 'encoder-1 press 0']);
});

test('a finger on an XY pad moves two controls; on a list it chooses the line that it is lifted from', () => {
  const sill = STOCK_SURFACES.get('sill') as Surface;
  const of = (id: string) => sill.controls.find((one) => one.id === id) as Control;
  const done: string[] = [];
  const fingers = new Fingers(
    sill,
    () => ({ faders: 'grab', dials: 'drag' }),
    () => 0,
    (control, does, value) => done.push(`${control.id} ${does} ${Math.round(value * 100) / 100}`),
  );
  const pad = of('xy');
  fingers.down(1, { x: pad.x + pad.width / 4, y: pad.y + pad.height / 4 });
  expect([...fingers.held].map(({ id }) => id)).toEqual(['xy', 'xy-across']);
  fingers.up(1);
  expect(done).toEqual([
    'xy touch 1',
    'xy-across touch 1',
    'xy move 0.75',
    'xy-across move 0.25',
    'xy touch 0',
    'xy-across touch 0',
  ]);
  done.length = 0;
  const list = of('list');
  const line = (n: number) => ({ x: list.x + 4, y: list.y + ((n + 0.5) * list.height) / 8 });
  fingers.down(1, line(0));
  fingers.move(1, line(7));
  fingers.up(1);
  expect(done).toEqual(['list touch 1', 'list move 0', 'list move 1', 'list touch 0']);
});

test('a panel fits whole, or is as high as the screen and no control that one plays is much smaller than a finger', () => {
  const size = fc.integer({ min: 300, max: 2_000 });
  fc.assert(
    fc.property(fc.constantFrom(...surfaces), size, size, (surface, width, height) => {
      const { scale, screens, left, top } = fitPanel(surface, width, height);
      expect(surface.height * scale).toBeLessThanOrEqual(height + 1e-6);
      expect(left >= -1e-6 || screens > 1).toBe(true);
      expect(top).toBeGreaterThanOrEqual(-1e-6);
      // All of it can be gone to.
      expect(screens * width * 1.03).toBeGreaterThanOrEqual(surface.width * scale);
      const isWhole = surface.width * scale <= width * 1.03;
      const isAsHigh = surface.height * scale >= height - 1e-6;
      const small = surface.controls
        .filter(({ kind }) => mainPart(kind) !== null)
        .filter((control) => Math.min(control.width, control.height) * scale < FINGER - 1e-6);
      if (!isWhole && !isAsHigh)
        expect(small.length).toBeLessThanOrEqual(surface.controls.length * 0.1 + 1);
    }),
  );
});
