import type { Binding } from '@rondo/core/profile';
import { feelOf, type FeelKind, type FeelSettings, type Feeling } from '@rondo/core/surface';
import type { PlanDraft } from './draft.js';

/** Where settings of what hangs on no control come from. */
export const NO_CONTROL: FeelKind = 'button';

/** How a binding feels; worked out once for all that say nothing of their own. */
export function feelOfBinding(
  draft: PlanDraft,
  kind: FeelKind,
  surface: FeelSettings | undefined,
  binding: Binding,
): Feeling {
  const { layer } = binding;
  const levels = {
    surface,
    profile: draft.profile.feel?.[kind],
    layer: draft.profile.layers[layer].feel?.[kind],
    binding: binding.feel,
  };
  if (binding.feel) return feelOf(kind, levels);
  let bySurface = draft.feels.get(surface);
  if (!bySurface) draft.feels.set(surface, (bySurface = new Map()));
  const key = `${kind} ${layer}`;
  const known = bySurface.get(key);
  if (known) return known;
  const feel = feelOf(kind, levels);
  bySurface.set(key, feel);
  return feel;
}
