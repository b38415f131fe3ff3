import { RONDO_COMMANDS, nextLayerId, type Action, type Profile } from '@rondo/core/profile';
import type { InputPart } from '@rondo/core/surface';
import type { Names } from '../names';
import { WINDOW } from './bank-window';
import { entryOf, type Choice } from './choice';

export type Add = (
  action: Action,
  category: string,
  words: readonly string[],
  scope: Choice['scope'],
  usual: boolean,
) => void;

/** Parameters of the plug-in in focus, by their place on the page. */
export function addFocus(names: Names, add: Add, part: InputPart): void {
  for (const host of names.profile.hostOrder) {
    const focus = names.model(host)?.focus;
    if (!focus) continue;
    if (part === 'push' || part === 'touch') {
      for (const by of [1, -1] as const)
        add(
          { do: 'focusPage', host, by, wrap: false },
          'Focus',
          ['plug-in', 'parameters', 'turn'],
          'focus',
          true,
        );
      continue;
    }
    for (let slot = 0; slot < WINDOW; slot++)
      add(
        {
          do: 'function',
          host,
          function: focus.function,
          scope: { kind: 'focus', slot },
          behaviour: 'follow',
        },
        'Focus',
        ['plug-in', 'slot', 'follows'],
        'focus',
        true,
      );
  }
}

/** What Rondo does itself: layers, flags, notes and messages. */
export function addOwn(profile: Profile, add: Add, part: InputPart): void {
  const [base] = profile.layerOrder;
  const pressed = part === 'push' || part === 'touch';
  if (pressed) {
    const groups = new Set<string>();
    for (const id of profile.layerOrder) {
      const { group } = profile.layers[id];
      if (group !== undefined) groups.add(group);
      if (id === base) continue;
      for (const how of ['hold', 'toggle', 'on', 'off'] as const)
        add({ do: 'layer', layer: id, how }, 'Layers', ['layer', 'shift', 'page'], 'host', true);
    }
    for (const group of groups)
      for (const by of [1, -1] as const)
        add({ do: 'layerStep', group, by, wrap: true }, 'Layers', ['layer', 'cycle'], 'host', true);
    for (const id of profile.flagOrder)
      for (const how of ['toggle', 'hold', 'on', 'off'] as const)
        add({ do: 'flag', flag: id, how }, 'Flags', ['condition', 'switch'], 'host', true);
  }
  if (pressed)
    for (const command of RONDO_COMMANDS) add({ do: 'rondo', command }, 'Rondo', [], 'host', true);
  for (const host of profile.hostOrder) {
    if (pressed)
      add(
        { do: 'notes', to: { host }, channel: 1, notes: [60] },
        'Notes',
        ['note', 'chord', 'play', 'instrument'],
        'host',
        true,
      );
    add(
      { do: 'send', to: { host }, message: 'B0 66 value' },
      'Messages',
      ['any', 'midi', 'sysex', 'raw'],
      'host',
      true,
    );
    add(
      { do: 'send', to: { host }, message: 'F0 7D text F7', text: '{layer}' },
      'Messages',
      ['text', 'sysex', 'display', 'name'],
      'host',
      true,
    );
    add({ do: 'send', to: { host } }, 'Messages', ['raw', 'through', 'as it is'], 'host', true);
  }
}

/** A layer that is made as the key is bound. */
export function newLayerChoice(profile: Profile, how: 'hold' | 'toggle'): Choice {
  const action: Action = { do: 'layer', layer: nextLayerId(profile), how };
  const label = how === 'hold' ? 'A new layer while held' : 'A new layer on or off';
  // Layers that are there already come first where any is asked for.
  const found = entryOf('New', action, ['Layers'], ['layer', 'shift', 'page', 'add', label]);
  return { label, category: 'Layers', action, ...found, scope: 'host', usual: true, boundTo: '' };
}
