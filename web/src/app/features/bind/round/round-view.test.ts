import { GESTURES, nineFerriesMix, unbind, type ControlRef } from '@rondo/core/profile';
import { STOP_STATION, Stop, compile, plainOf } from '@rondo/core/round';
import fc from 'fast-check';
import {
  Frame,
  Head,
  OutField,
  PartField,
  SlotField,
  frameLength,
  stillFrame,
} from '../../../engine/frame';
import { NOTHING_OWN, libraryWith } from '../../../engine/library';
import { Names } from '../names';
import { roundView, strayText } from './round-view';
import { Stack } from './stack';

const LIBRARY = libraryWith(NOTHING_OWN);
const PROFILE = nineFerriesMix();
const PLAN = plainOf(compile(PROFILE, LIBRARY));
const NAMES = new Names(PROFILE, LIBRARY);
const STOPS = Object.keys(STOP_STATION).map(Number) as Stop[];

const partAt = (index: number): ControlRef => {
  const { control, link, part } = PLAN.parts[index];
  return { surface: PLAN.links[link].id, control: control.id, part };
};
const stackOf = (profile = PROFILE, layer = PROFILE.layerOrder[0]) =>
  new Stack(profile, layer, new Set([layer]), []);

/** A moment as the engine may tell it: any values, of parts that are there. */
function momentOf(numbers: readonly number[]): Frame {
  const frame = new Frame(PLAN, new ArrayBuffer(frameLength(PLAN) * 8));
  let n = 0;
  const next = () => numbers[n++ % numbers.length];
  const below = (count: number) => Math.floor(next() * (count + 1)) - 1;
  frame.setHead(Head.Time, 10_000_000);
  frame.setHead(Head.Bank, below(8) + 1);
  frame.setHead(Head.HoldOff, next() < 0.5 ? 0 : 1);
  frame.setHead(Head.Open, Math.floor(next() * 4 ** PLAN.links.length));
  PLAN.parts.forEach((_, part) => {
    frame.setPart(part, PartField.At, below(9) * 1_000_000);
    frame.setPart(part, PartField.Stop, STOPS[Math.floor(next() * STOPS.length)]);
    frame.setPart(part, PartField.Slot, below(PLAN.slots.length));
    frame.setPart(part, PartField.StopSlot, below(PLAN.slots.length));
    frame.setPart(part, PartField.Binding, below(PLAN.bindings.length));
    frame.setPart(part, PartField.Raw, next());
    frame.setPart(part, PartField.Position, next());
    frame.setPart(part, PartField.Gap, next() < 0.5 ? 0 : next() - 0.5);
    frame.setPart(
      part,
      PartField.Packed,
      0xb0 | ((below(127) + 1) << 8) | ((below(127) + 1) << 16),
    );
  });
  PLAN.outs.forEach((_, out) => {
    frame.setOut(out, OutField.Wire, below(1_023));
    frame.setOut(out, OutField.Slot, below(PLAN.slots.length));
  });
  PLAN.slots.forEach((_, slot) => {
    frame.setSlot(slot, SlotField.Value, next());
    frame.setSlot(slot, SlotField.Know, below(2) + 1);
  });
  return frame;
}
const moment = fc
  .array(fc.double({ min: 0, max: 0.999_999, noNaN: true }), { minLength: 30, maxLength: 90 })
  .map(momentOf);

test('whatever the engine tells: where a message stops and why is said in a sentence, and so is why nothing comes back', () => {
  fc.assert(
    fc.property(
      moment,
      fc.nat(PLAN.parts.length - 1),
      fc.constantFrom(...PROFILE.layerOrder),
      fc.constantFrom(...GESTURES),
      (frame, index, layer, gesture) => {
        const view = roundView(NAMES, frame, partAt(index), stackOf(PROFILE, layer), gesture);
        if (!view) throw new Error('The part is in the plan.');
        const { link } = PLAN.parts[index];
        // A closed port is the first thing to mend: nothing else is told as the reason.
        if (!frame.isOpen(link, 'input')) {
          expect(view.stop).toMatchObject({ station: 'message' });
        }
        for (const told of [view.stop, view.silent])
          if (told) expect(told.why).toMatch(/^\S.*[.!]$/);
        // What was never touched has no message, and has stopped nowhere.
        if (frame.part(index, PartField.At) < 0) {
          expect(view).toMatchObject({ hex: '', ago: '', valueText: 'not touched yet' });
          if (frame.isOpen(link, 'input')) expect(view.stop).toBeNull();
        }
        // Nothing is said to be known that is not.
        if (view.know === 'unknown') expect(view.functionValue).toBe('');
        expect(Object.values(view).join(' ')).not.toMatch(/undefined|NaN|\[object (?!Object)/);
      },
    ),
    { numRuns: 400 },
  );
});

test('each reason to stop is told at its own station, as long as it holds', () => {
  const index = PLAN.parts.findIndex(({ key }) => key.endsWith('/fader-1/value'));
  const selected = partAt(index);
  for (const stop of STOPS) {
    const frame = momentOf([0]);
    frame.setHead(Head.Open, 4 ** PLAN.links.length - 1);
    frame.setHead(Head.HoldOff, 1);
    frame.setPart(index, PartField.At, 9_000_000);
    frame.setPart(index, PartField.Binding, -1);
    frame.setPart(index, PartField.Stop, stop);
    const bound = roundView(NAMES, frame, selected, stackOf(), 'press');
    const { document: freed } = unbind(PROFILE, 'Unbind', selected, {
      layer: PROFILE.layerOrder[0],
      gesture: 'press',
    });
    const unbound = roundView(NAMES, frame, selected, stackOf(freed), 'press');
    // What has been bound since is nothing that nothing is bound to; the open port stops nothing.
    const isMended = stop === Stop.NothingBound || stop === Stop.HostClosed;
    expect(bound?.stop?.station ?? null).toBe(isMended ? null : STOP_STATION[stop]);
    if (stop === Stop.NothingBound) expect(unbound?.stop?.station).toBe(STOP_STATION[stop]);
    frame.setHead(Head.HoldOff, 0);
    if (stop === Stop.HeldOff)
      expect(roundView(NAMES, frame, selected, stackOf(), 'press')?.stop).toBeNull();
  }
});

test('a message that no control sends is told until a control is touched again', () => {
  const frame = stillFrame(PLAN, { layers: [], bank: 0 });
  expect(strayText(frame)).toBeNull();
  frame.setHead(Head.StrayAt, 5);
  frame.setHead(Head.StrayLink, 0);
  frame.setHead(Head.StrayPacked, 0x0b | 0xb0 | (99 << 8) | (1 << 16));
  frame.setHead(Head.InHandAt, 4);
  expect(strayText(frame)).toMatch(new RegExp(`^${PLAN.links[0].label} sent .*99.*no control`));
  frame.setHead(Head.InHandAt, 6);
  expect(strayText(frame)).toBeNull();
});
