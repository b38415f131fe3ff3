import { standsInBindings, type Binding, type OutputRef } from '@rondo/core/profile';
import type { Surface } from '@rondo/core/surface';
import { resolveAim } from './aims.js';
import type { PlanDraft } from './draft.js';
import type { Aim } from './aim.js';

/** What surfaces do that stand in for others. */
export interface StandingIn {
  readonly bindings: readonly { readonly binding: Binding; readonly surface: Surface }[];
  readonly shown: readonly { readonly out: OutputRef; readonly aim: Aim }[];
}

/** What surfaces do that stand in for others; what cannot be is told. */
export function standInsOf(
  draft: PlanDraft,
  surfaceOf: (id: string) => Surface | undefined,
): StandingIn {
  const [layer] = draft.profile.layerOrder;
  const { bindings, shown, faults } = standsInBindings(draft.profile, surfaceOf, (id) =>
    draft.library.host(id),
  );
  for (const why of faults) draft.say({ binding: '', layer, what: 'control', why });
  return {
    bindings: bindings.flatMap((binding) => {
      const surface = surfaceOf(binding.control?.surface ?? '');
      return surface ? [{ binding, surface }] : [];
    }),
    shown: shown.flatMap(({ out, target }) => {
      const aim = resolveAim(draft, target.host, target.function, target.scope);
      return aim ? [{ out, aim }] : [];
    }),
  };
}
