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

const booth = (
  functionId: string,
  scope: FunctionAction['scope'],
  behaviour: FunctionAction['behaviour'],
  more: { to?: number; step?: number } = {},
): FunctionAction => ({ ...studio(functionId, scope, behaviour, more), host: 'booth' });

const FIRST_DECK_STRIPS = 4;
/** What a strip of the desk does for the deck of its number. */
const DECK_KEYS: Readonly<Record<string, readonly [string, FunctionAction['behaviour'], number?]>> =
  {
    'fader.value': ['fader', 'follow'],
    'encoder.value': ['filter', 'follow'],
    'encoder.push': ['filter', 'set', 0.5],
    'select.push': ['play', 'toggle'],
    'mute.push': ['cue', 'momentary'],
    'solo.push': ['sync', 'toggle'],
    'arm.push': ['headphone', 'toggle'],
  };
/** What keys that stand once on the desk do for the deck in focus. */
const FOCUS_KEYS: Readonly<
  Record<string, readonly [string, FunctionAction['behaviour'], number?]>
> = {
  'play.push': ['play', 'toggle'],
  'stop.push': ['cue', 'momentary'],
  'rewind.push': ['jumpBack', 'set', 1],
  'forward.push': ['jumpOn', 'set', 1],
  'loop.push': ['loop', 'toggle'],
  'jog.value': ['jog', 'follow'],
  'click.push': ['quantise', 'toggle'],
  'marker.push': ['load', 'set', 1],
};

/** The demo profile *Neap Rink*: Harrow 8 and Cobble 64 play the Booth. A first version. */
export function neapRink(profileId = 'neap-rink'): Profile {
  const profile: Profile = {
    ...emptyProfile(profileId, 'Neap Rink'),
    surfaces: {
      desk: { id: 'desk', model: 'harrow-8', label: 'Harrow 8' },
      pads: { id: 'pads', model: 'cobble-64', label: 'Cobble 64' },
    },
    surfaceOrder: ['desk', 'pads'],
    hosts: { booth: { id: 'booth', model: 'booth', label: 'Booth' } },
    hostOrder: ['booth'],
  };
  const add = (surface: string, control: string, part: InputPart, action: Action) => {
    const key = `${surface}.${control}.${part}`;
    profile.bindings[key] = {
      id: key,
      layer: 'base',
      control: { surface, control, part },
      actions: [action],
    };
    profile.bindingOrder.push(key);
  };
  const more = (to: number | undefined) => (to === undefined ? {} : { to });
  for (const control of HARROW_8.controls)
    for (const part of Object.keys(control.sends) as InputPart[]) {
      const [name] = control.id.split('-');
      const onDeck = DECK_KEYS[`${name}.${part}`];
      if (control.strip !== undefined && control.strip < FIRST_DECK_STRIPS && onDeck)
        add(
          'desk',
          control.id,
          part,
          booth(onDeck[0], { kind: 'fixed', strip: control.strip }, onDeck[1], {
            ...more(onDeck[2]),
            ...(onDeck[0] === 'filter' && part === 'value' ? { step: PAN_STEP } : {}),
          }),
        );
      const onFocus = FOCUS_KEYS[`${control.id}.${part}`];
      if (onFocus)
        add(
          'desk',
          control.id,
          part,
          booth(onFocus[0], { kind: 'selected' }, onFocus[1], more(onFocus[2])),
        );
    }
  add('desk', 'fader-master', 'value', booth('masterLevel', HOST_WIDE, 'follow'));
  add('desk', 'fader-8', 'value', booth('crossfader', HOST_WIDE, 'follow'));
  for (let deck = 0; deck < FIRST_DECK_STRIPS; deck++)
    for (let cue = 1; cue <= 8; cue++)
      add(
        'pads',
        `pad-${deck * 8 + cue}`,
        'push',
        booth(`hotCue${cue}`, { kind: 'fixed', strip: deck }, 'set', { to: 1 }),
      );
  for (let sampler = 1; sampler <= 8; sampler++)
    add('pads', `pad-${56 + sampler}`, 'push', booth(`sampler${sampler}`, HOST_WIDE, 'toggle'));
  return profile;
}
