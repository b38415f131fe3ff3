import { expectedPart, type HostModel } from '@rondo/core/host';
import {
  inputsOf,
  outputsOf,
  type InputPart,
  type OutputPart,
  type Surface,
} from '@rondo/core/surface';
import type { Scope } from './action.js';
import type { Binding, OutputRef, Profile } from './profile.js';

/** What ids of bindings begin with that nobody has made: a surface stands in for another. */
export const STANDS_IN = 'standsIn:';

interface StandInTarget {
  readonly host: string;
  readonly function: string;
  readonly scope: Scope;
}

/** What surfaces do by standing in for others. */
export interface StandInBindings {
  /** One for each part that the hand moves; they lie under all of the user's own. */
  readonly bindings: readonly Binding[];
  /** What is shown where no part of the same control moves it. */
  readonly shown: readonly { readonly out: OutputRef; readonly target: StandInTarget }[];
  /** What cannot be, in a sentence each. */
  readonly faults: readonly string[];
}

/** Outputs that follow a part which the hand moves, and need no telling. */
const FOLLOWS: Readonly<Partial<Record<OutputPart, InputPart>>> = {
  motor: 'value',
  ring: 'value',
  light: 'push',
};

/** Bindings that follow from what the surfaces of a profile stand in for: live, and nowhere written down. */
export function standsInBindings(
  profile: Profile,
  surfaceOf: (id: string) => Surface | undefined,
  hostOf: (model: string) => HostModel | undefined,
): StandInBindings {
  const bindings: Binding[] = [];
  const shown: { out: OutputRef; target: StandInTarget }[] = [];
  const faults: string[] = [];
  const [layer] = profile.layerOrder;
  for (const id of profile.surfaceOrder) {
    const { standsIn, label } = profile.surfaces[id];
    const surface = surfaceOf(id);
    if (!standsIn || !surface) continue;
    const { host } = standsIn;
    const known = Object.hasOwn(profile.hosts, host) ? profile.hosts[host] : undefined;
    const model = known && hostOf(known.model);
    if (!model?.expects) {
      faults.push(`${label} stands in for a surface, but ${known?.label ?? host} expects none.`);
      continue;
    }
    for (const { control: own, for: other, unit } of standsIn.pairs) {
      const control = surface.controls.find((one) => one.id === own);
      const targetOf = (part: InputPart | OutputPart): StandInTarget | null => {
        const found = expectedPart(model, unit, other, part);
        if (!found) return null;
        const scope: Scope =
          found.strip < 0 ? { kind: 'host' } : { kind: 'fixed', strip: found.strip };
        return { host, function: found.fn, scope };
      };
      const ins: InputPart[] = control
        ? inputsOf(surface, control).filter((part) => part !== 'touch')
        : [];
      const outs: OutputPart[] = control ? outputsOf(surface, control) : [];
      if (!control || ![...ins, ...outs].some(targetOf)) {
        faults.push(`${label} has no ${own} that could be ${other} of ${model.name}.`);
        continue;
      }
      for (const part of ins) {
        const target = targetOf(part);
        if (target)
          bindings.push({
            id: `${STANDS_IN}${id}:${own}:${part}`,
            layer,
            control: { surface: id, control: own, part },
            actions: [{ do: 'function', ...target, behaviour: 'follow' }],
          });
      }
      for (const part of outs) {
        const follows = FOLLOWS[part];
        if (follows && ins.includes(follows) && targetOf(follows)) continue;
        const target = targetOf(part);
        if (target) shown.push({ out: { surface: id, control: own, part }, target });
      }
    }
  }
  return { bindings, shown, faults };
}
