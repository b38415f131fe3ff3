import { blankHost, type HostRow, type MessageHost } from '@rondo/core/host';
import {
  addHost,
  addSurface,
  bind,
  emptyProfile,
  type Action,
  type Profile,
} from '@rondo/core/profile';
import type { Pattern } from '@rondo/core/surface';

type OscPattern = Extract<Pattern, { type: 'osc' }>;

export const osc = (address: string, more: Partial<OscPattern> = {}): OscPattern => ({
  type: 'osc',
  address,
  argument: 1,
  as: 'float',
  ...more,
});

const row = (id: string, kind: HostRow['kind'], message: Pattern): HostRow => ({
  id,
  name: id,
  kind,
  message,
  feedback: 'same',
});

/** An invented light desk that speaks OSC: levels in decibels and whole numbers, keys, two arguments under one address. */
export const LAMPROOM: MessageHost = {
  ...blankHost('lamproom', 'Lamproom'),
  ask: '/lamproom/tell',
  rows: [
    row('grand', 'continuous', osc('/grand', { low: -60, high: 6 })),
    row('dim', 'continuous', osc('/dim', { as: 'integer', low: 0, high: 255 })),
    row('panX', 'continuous', osc('/head/1/xy')),
    row('panY', 'continuous', osc('/head/1/xy', { argument: 2 })),
    row('blind', 'toggle', osc('/blind', { as: 'boolean' })),
    row('speed', 'continuous', osc('/speed', { as: 'double', low: 1, high: 0 })),
    row('cue', 'continuous', osc('/cue', { as: 'long', low: 0, high: 100 })),
    row('go', 'trigger', osc('/go', { as: 'integer', low: 0, high: 1 })),
  ],
};

const does = (fn: string, behaviour: 'follow' | 'toggle', host: string): Action => ({
  do: 'function',
  host,
  function: fn,
  scope: { kind: 'host' },
  behaviour,
});

/** The touch screen that ships with Rondo before the light desk. */
export function lamproomProfile(): Profile {
  let profile: Profile = {
    ...emptyProfile('glass', 'Glass'),
    surfaces: {},
    surfaceOrder: [],
    hosts: {},
    hostOrder: [],
  };
  profile = addSurface(profile, 'pane', 'Pane').document;
  profile = addHost(profile, 'lamproom', 'Lamproom').document;
  const [surface] = profile.surfaceOrder;
  const [host] = profile.hostOrder;
  ['grand', 'dim', 'panX', 'panY', 'speed', 'cue'].forEach((fn, n) => {
    const control = { surface, control: `fader-${n + 1}`, part: 'value' } as const;
    profile = bind(profile, 'Bind', control, does(fn, 'follow', host)).document;
  });
  const key = { surface, control: 'key-1', part: 'push' } as const;
  return bind(profile, 'Bind', key, does('blind', 'toggle', host)).document;
}
