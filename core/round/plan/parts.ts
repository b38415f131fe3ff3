import type { InputPart, OutputPart, Pattern } from '@rondo/core/surface';
import { partKey, type PartPlan } from './plan.js';
import type { SurfaceParts } from './surfaces.js';

const NO_CANDIDATES: readonly (readonly number[])[] = [[], [], [], []];

/** Whether a message can only say 'pressed': a program change by number, a SysEx without a place for a value. */
const isOneShot = (pattern: Pattern | undefined): boolean =>
  (pattern?.type === 'program' && pattern.number !== undefined) ||
  (pattern?.type === 'sysex' && !/\b(value|high)\b/i.test(pattern.template));

/** Makes the input parts ready, each with what may be bound to it. */
export function partPlans(
  { inputs, outputs, partIndex, outIndex }: SurfaceParts,
  candidates: ReadonlyMap<number, number[][]>,
): PartPlan[] {
  const displays = new Map<string, number>();
  outputs.forEach(({ surfaceId, control, part }, out) => {
    if (control.kind === 'display' && part === 'lower')
      displays.set(`${surfaceId}/${control.strip ?? ''}`, out);
  });
  return inputs.map((input, index): PartPlan => {
    const { link, surfaceId, control, part, moves, patterns } = input;
    const beside = (other: InputPart | OutputPart, of: ReadonlyMap<string, number>) =>
      of.get(partKey(surfaceId, control.id, other)) ?? -1;
    const shown = part === 'value' && control.strip !== undefined;
    return {
      key: partKey(surfaceId, control.id, part),
      link,
      control,
      part,
      patterns,
      moves,
      oneShot: part === 'push' && patterns.some(isOneShot),
      latching: part === 'push' && control.latching === true,
      motor: beside('motor', outIndex),
      partner: beside(part === 'touch' ? 'value' : 'touch', partIndex),
      text: shown ? (displays.get(`${surfaceId}/${control.strip}`) ?? -1) : -1,
      textSource: control.kind === 'fader' ? 1 : 0,
      rest: control.springs === 'low' ? 0 : 0.5,
      candidates: candidates.get(index) ?? NO_CANDIDATES,
    };
  });
}
