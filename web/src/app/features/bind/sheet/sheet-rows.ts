import type { Binding, ControlRef, Profile } from '@rondo/core/profile';
import type { Broken } from '@rondo/core/round';
import type { Takeover } from '@rondo/core/surface';
import { BEHAVIOUR_WORDS } from '../../../shared/words/behaviour-words';
import { GESTURE_WORDS, type Names } from '../names';

/** One binding as a line of the sheet. */
export interface Row {
  readonly id: string;
  readonly control: string;
  readonly surface: string;
  readonly gesture: string;
  readonly layer: string;
  readonly does: string;
  readonly how: string;
  readonly when: string;
  readonly more: string;
  readonly words: string;
  readonly broken: Broken | null;
}

export const TAKEOVER_WORDS: Readonly<Record<Takeover, string>> = {
  jump: 'Jump',
  pickup: 'Pick up',
  scale: 'Scale',
  rest: 'From rest',
};

/**
 * A binding as a line.
 * @param names the words of the profile that it is of
 * @param controlName what a control is called
 */
export function rowOf(
  profile: Profile,
  binding: Binding,
  broken: Broken | undefined,
  names: Names,
  controlName: (ref: ControlRef) => string,
): Row {
  const { control, cause, actions } = binding;
  const name = control ? controlName(control) : cause ? names.cause(cause) : '';
  const layer = Object.hasOwn(profile.layers, binding.layer)
    ? profile.layers[binding.layer].label
    : `${binding.layer} (gone)`;
  const does = actions.map((action) => names.action(action)).join(', ');
  const [first] = actions;
  const how = first.do === 'function' ? BEHAVIOUR_WORDS[first.behaviour].label : '';
  const when = (binding.when ?? []).map((one) => names.condition(one)).join(', ');
  const more = [
    binding.feel?.takeover ? TAKEOVER_WORDS[binding.feel.takeover] : '',
    binding.group ? `one of ${binding.group}` : '',
    binding.passOn ? 'goes on' : '',
    binding.pinned ? 'pinned' : '',
    first.do === 'function' && first.shape ? 'shaped' : '',
  ]
    .filter(Boolean)
    .join(', ');
  const moved = control?.part === 'value' || control?.part === 'pressure';
  return {
    id: binding.id,
    control: name,
    surface: control ? (profile.surfaces[control.surface]?.label ?? control.surface) : '',
    gesture: cause ? 'A host changes' : moved ? 'Move' : GESTURE_WORDS[binding.gesture ?? 'press'],
    layer,
    does,
    how,
    when,
    more,
    words: [name, layer, does, how, when, more].join(' ').toLowerCase(),
    broken: broken ?? null,
  };
}
