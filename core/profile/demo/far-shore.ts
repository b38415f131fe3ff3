import { expectingId, lantern } from '@rondo/core/host';
import { COBBLE_64, HARROW_8, WHOLE_DESK } from '@rondo/core/surface';
import { emptyProfile, type Profile } from '../profile.js';
import { matchControls } from '../stand-in-match.js';
import { DemoBuilder, HOST_WIDE, actionsOf } from './builder.js';

const synth = actionsOf('lantern');
const PROGRAM = 'program';
/** Rows of the pad grid that stand in for keys of the desk. */
const ROWS = /^(mute|solo|arm|select)-\d$/;

/**
 * The session mixed across the water, in a program that knows only a Mackie-style desk: the Harrow 8 and a pad grid
 * stand in for one, and on a layer of its own the faders play Lantern, an invented synth, by its chart.
 */
export function farShore(): Profile {
  const empty = emptyProfile('far-shore', 'Far Shore');
  const demo = new DemoBuilder({
    ...empty,
    surfaces: {
      desk: {
        id: 'desk',
        model: HARROW_8.id,
        label: 'Harrow 8',
        standsIn: {
          host: PROGRAM,
          pairs: matchControls(HARROW_8, [WHOLE_DESK], new Set(['layer-4'])),
        },
      },
      pads: {
        id: 'pads',
        model: COBBLE_64.id,
        label: 'Cobble 64',
        standsIn: {
          host: PROGRAM,
          pairs: matchControls(COBBLE_64, [WHOLE_DESK]).filter((pair) => ROWS.test(pair.for)),
        },
      },
    },
    surfaceOrder: ['desk', 'pads'],
    hosts: {
      [PROGRAM]: { id: PROGRAM, model: expectingId([WHOLE_DESK.id]), label: 'Program' },
      lantern: { id: 'lantern', model: 'lantern', label: 'Lantern' },
    },
    hostOrder: [PROGRAM, 'lantern'],
  });
  demo.layer({ id: 'lantern', label: 'Lantern' });
  demo.on('desk', 'layer-4', 'push', { do: 'layer', layer: 'lantern', how: 'toggle' });
  const onLantern = { layer: 'lantern' };
  lantern().rows.forEach(({ id, kind }, i) => {
    if (kind === 'toggle')
      demo.on('desk', 'mute-8', 'push', synth(id, HOST_WIDE, 'toggle'), onLantern);
    else demo.on('desk', `fader-${i + 1}`, 'value', synth(id, HOST_WIDE, 'follow'), onLantern);
  });
  return demo.profile;
}
