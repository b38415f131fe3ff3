import type { InputPart } from '@rondo/core/surface';
import type { Action, FunctionAction, Scope } from '../action.js';
import type { Binding, Layer, Profile } from '../profile.js';

export const HOST_WIDE: Scope = { kind: 'host' };
export const SELECTED_ONE: Scope = { kind: 'selected' };
export const inWindow = (offset: number): Scope => ({ kind: 'window', offset });
export const always = (strip: number): Scope => ({ kind: 'fixed', strip });

type More = Partial<Omit<FunctionAction, 'do' | 'host' | 'function' | 'scope' | 'behaviour'>>;

/** Writes down actions of one host. */
export const actionsOf =
  (host: string) =>
  (
    functionId: string,
    scope: Scope,
    behaviour: FunctionAction['behaviour'],
    more: More = {},
  ): FunctionAction => ({ do: 'function', host, function: functionId, scope, behaviour, ...more });

/** Puts a choice of several by its place, as the value that stands for it. */
export const choice = (index: number, total: number): More => ({ to: index / (total - 1) });

/** Adds bindings to a demo profile, each under the name of what it hangs on. */
export class DemoBuilder {
  constructor(readonly profile: Profile) {}

  layer(layer: Layer): this {
    this.profile.layers[layer.id] = layer;
    this.profile.layerOrder.push(layer.id);
    return this;
  }

  flag(id: string, label: string, initially = false): this {
    this.profile.flags[id] = { id, label, initially };
    this.profile.flagOrder.push(id);
    return this;
  }

  /** Binds a part of a control: `surface.control.part`. */
  on(
    surface: string,
    control: string,
    part: InputPart,
    actions: Action | readonly Action[],
    more: Partial<Omit<Binding, 'id' | 'control' | 'actions'>> = {},
  ): this {
    const layer = more.layer ?? this.profile.layerOrder[0];
    const gesture = more.gesture === undefined ? '' : `.${more.gesture}`;
    return this.add(`${layer}.${surface}.${control}.${part}${gesture}`, {
      ...more,
      layer,
      control: { surface, control, part },
      actions: [actions].flat() as Action[],
    });
  }

  /** Binds a change of a host's state. */
  when(id: string, cause: NonNullable<Binding['cause']>, actions: readonly Action[]): this {
    return this.add(id, { layer: this.profile.layerOrder[0], cause, actions: [...actions] });
  }

  private add(id: string, binding: Omit<Binding, 'id'>): this {
    this.profile.bindings[id] = { ...binding, id } as Binding;
    this.profile.bindingOrder.push(id);
    return this;
  }
}
