import { HARROW_8, type Control, type InputPart } from '@rondo/core/surface';
import { emptyProfile, type Action, type FunctionAction, type Profile } from './profile.js';

const MASTER_STRIP = 19;
const PAN_STEP = 1 / 50;

const studio = (
  functionId: string,
  scope: FunctionAction['scope'],
  behaviour: FunctionAction['behaviour'],
  more: { to?: number; step?: number } = {},
): FunctionAction => ({
  do: 'function',
  host: 'studio',
  function: functionId,
  scope,
  behaviour,
  ...more,
});

const HOST_WIDE = { kind: 'host' } as const;

/** What the demo binds to keys that stand once on the desk. */
const KEYS: Readonly<Record<string, Action>> = {
  rewind: studio('rewind', HOST_WIDE, 'set', { to: 1 }),
  forward: studio('forward', HOST_WIDE, 'set', { to: 1 }),
  stop: studio('stop', HOST_WIDE, 'set', { to: 1 }),
  play: studio('play', HOST_WIDE, 'set', { to: 1 }),
  record: studio('record', HOST_WIDE, 'toggle'),
  loop: studio('loop', HOST_WIDE, 'toggle'),
  click: studio('click', HOST_WIDE, 'toggle'),
  'bank-left': { do: 'bank', by: -8 },
  'bank-right': { do: 'bank', by: 8 },
  'strip-left': { do: 'bank', by: -1 },
  'strip-right': { do: 'bank', by: 1 },
};

function demoAction(control: Control, part: InputPart): Action | null {
  if (part === 'touch') return null;
  if (control.strip !== undefined) {
    const scope = { kind: 'window', offset: control.strip } as const;
    if (control.kind === 'fader') return studio('volume', scope, 'follow');
    if (control.kind === 'encoder')
      return part === 'push'
        ? studio('pan', scope, 'set', { to: 0.5 })
        : studio('pan', scope, 'follow', { step: PAN_STEP });
    const functionId = control.id.split('-')[0];
    return studio(functionId, scope, functionId === 'select' ? 'set' : 'toggle', {
      ...(functionId === 'select' ? { to: 1 } : {}),
    });
  }
  if (control.id === 'fader-master')
    return studio('volume', { kind: 'fixed', strip: MASTER_STRIP }, 'follow');
  if (control.id === 'jog') return studio('scrub', HOST_WIDE, 'follow');
  return KEYS[control.id] ?? null;
}

/** The demo profile *Nine Ferries – mix*: Harrow 8 plays the Studio. */
export function nineFerriesMix(profileId = 'nine-ferries-mix'): Profile {
  const profile = emptyProfile(profileId, 'Nine Ferries – mix');
  for (const control of HARROW_8.controls)
    for (const part of Object.keys(control.sends) as InputPart[]) {
      const action = demoAction(control, part);
      if (!action) continue;
      const key = `${control.id}.${part}`;
      profile.bindings[key] = {
        id: key,
        layer: 'base',
        control: { surface: 'desk', control: control.id, part },
        actions: [action],
      };
      profile.bindingOrder.push(key);
    }
  return profile;
}
