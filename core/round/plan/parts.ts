import type { PartPlan } from './part-plan.js';
import { keysOf, type SurfaceParts } from './surfaces.js';

const NO_CANDIDATES: readonly (readonly number[])[] = [[], [], [], []];

/** Makes the input parts ready, each with what may be bound to it. */
export function partPlans(
  { surfaces }: SurfaceParts,
  candidates: ReadonlyMap<number, number[][]>,
): PartPlan[] {
  const parts: PartPlan[] = [];
  for (const { id, link, firstIn, firstOut, wiring } of surfaces) {
    const keys = keysOf(wiring, id).ins;
    wiring.ins.forEach((sending, at) => {
      const { control, part, moves, patterns, motor, partner, text, oneShot } = sending;
      parts.push({
        key: keys[at],
        link,
        control,
        part,
        patterns,
        moves,
        oneShot,
        latching: part === 'push' && control.latching === true,
        motor: motor < 0 ? -1 : firstOut + motor,
        partner: partner < 0 ? -1 : firstIn + partner,
        text: text < 0 ? -1 : firstOut + text,
        textSource: control.kind === 'fader' ? 1 : 0,
        rest: control.springs === 'low' ? 0 : 0.5,
        candidates: candidates.get(firstIn + at) ?? NO_CANDIDATES,
      });
    });
  }
  return parts;
}
