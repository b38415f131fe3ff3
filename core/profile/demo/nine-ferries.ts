import { HARROW_8, type Control } from '@rondo/core/surface';
import type { Action } from '../action.js';
import { emptyProfile, type Profile } from '../profile.js';
import { DemoBuilder, HOST_WIDE, SELECTED_ONE, actionsOf, always, inWindow } from './builder.js';

const studio = actionsOf('studio');

const MASTER_STRIP = 19;
const MUSIC_STRIP = 18;
const PAN_STEP = 1 / 50;

const press = (functionId: string) => studio(functionId, HOST_WIDE, 'set', { to: 1 });
const toggle = (functionId: string) => studio(functionId, HOST_WIDE, 'toggle');
const bank = (by: number): Action => ({ do: 'bank', by });
const flag = (id: string, how: 'on' | 'off' | 'toggle'): Action => ({ do: 'flag', flag: id, how });

/** Keys that stand once on the desk, at a press on the lowest layer. */
const KEYS: Readonly<Record<string, Action>> = {
  rewind: press('rewind'),
  forward: press('forward'),
  stop: press('stop'),
  play: press('play'),
  record: toggle('record'),
  loop: toggle('loop'),
  click: toggle('click'),
  marker: press('markerNext'),
  'bank-left': bank(-8),
  'bank-right': bank(8),
  'strip-left': bank(-1),
  'strip-right': bank(1),
  'layer-1': { do: 'layer', layer: 'shift', how: 'hold' },
  'layer-2': { do: 'layer', layer: 'sends', how: 'toggle' },
  'layer-3': { do: 'layer', layer: 'plug-in', how: 'toggle' },
  'layer-4': { do: 'focusPage', host: 'studio', by: 1, wrap: true },
};

/** The same keys with Shift. */
const SHIFTED: Readonly<Record<string, Action>> = {
  rewind: press('toStart'),
  forward: press('markerNext'),
  play: toggle('punch'),
  record: flag('foot-record', 'toggle'),
  loop: studio('loopStart', HOST_WIDE, 'set', { to: 0 }),
  click: press('tapTempo'),
  marker: press('markerPrevious'),
  'layer-4': press('focusNext'),
};

/** Pedals of the foot board, in their order. */
const PEDALS: readonly Action[] = [
  toggle('play'),
  toggle('record'),
  press('rewind'),
  press('forward'),
  press('undo'),
  press('save'),
  studio('mute', SELECTED_ONE, 'momentary'),
  press('markerAdd'),
  toggle('click'),
  bank(-8),
  bank(8),
  { do: 'layer', layer: 'shift', how: 'hold' },
];

function strip(demo: DemoBuilder, control: Control, offset: number): void {
  const scope = inWindow(offset);
  const [name] = control.id.split('-');
  const on = (action: Action, more = {}) => demo.on('desk', control.id, 'push', action, more);
  if (control.kind === 'fader') {
    demo.on('desk', control.id, 'value', studio('volume', scope, 'follow'));
    return;
  }
  if (control.kind === 'encoder') {
    demo
      .on('desk', control.id, 'value', studio('pan', scope, 'follow', { step: PAN_STEP }))
      .on('desk', control.id, 'push', studio('pan', scope, 'set', { to: 0.5 }))
      .on('desk', control.id, 'value', studio('send1', scope, 'follow'), { layer: 'sends' })
      .on('desk', control.id, 'push', studio('send1', scope, 'set', { to: 0 }), { layer: 'sends' })
      .on(
        'desk',
        control.id,
        'value',
        studio('focusInsert', { kind: 'focus', slot: offset }, 'follow'),
        { layer: 'plug-in' },
      );
    return;
  }
  if (name === 'select') {
    on(studio('select', scope, 'set', { to: 1 }));
    on(studio('insert2On', scope, 'toggle'), { layer: 'shift' });
  } else if (name === 'arm') {
    on(studio('arm', scope, 'toggle'));
    // One microphone at a time.
    on(studio('arm', scope, 'toggle'), { layer: 'shift', group: 'One armed' });
  } else on(studio(name, scope, 'toggle'));
}

/** The demo profile *Nine Ferries – mix*: Harrow 8 and the foot board Treadle play the Studio. */
export function nineFerriesMix(profileId = 'nine-ferries-mix'): Profile {
  const demo = new DemoBuilder({
    ...emptyProfile(profileId, 'Nine Ferries – mix'),
    surfaces: {
      desk: { id: 'desk', model: 'harrow-8', label: 'Harrow 8' },
      feet: { id: 'feet', model: 'treadle', label: 'Treadle' },
    },
    surfaceOrder: ['desk', 'feet'],
  })
    .layer({ id: 'sends', label: 'Sends', group: 'Encoders' })
    .layer({ id: 'plug-in', label: 'Plug-in', group: 'Encoders' })
    .layer({ id: 'shift', label: 'Shift' })
    .flag('foot-record', 'Foot may record', true)
    .flag('take', 'A take is running');
  for (const control of HARROW_8.controls) {
    if (control.kind === 'display') continue;
    if (control.strip !== undefined) strip(demo, control, control.strip);
    else if (Object.hasOwn(KEYS, control.id)) demo.on('desk', control.id, 'push', KEYS[control.id]);
    if (Object.hasOwn(SHIFTED, control.id))
      demo.on('desk', control.id, 'push', SHIFTED[control.id], { layer: 'shift' });
  }
  for (let n = 1; n <= 8; n++)
    demo
      .on('desk', `function-${n}`, 'push', press(`marker${n}`))
      .on('desk', `function-${n}`, 'push', press(`user${n}`), { layer: 'shift' });
  demo
    .on('desk', 'fader-master', 'value', studio('volume', always(MASTER_STRIP), 'follow'))
    .on('desk', 'jog', 'value', studio('scrub', HOST_WIDE, 'follow'))
    .on('desk', 'jog', 'value', studio('zoomAcross', HOST_WIDE, 'follow', { step: 1 / 100 }), {
      layer: 'shift',
    })
    .on('desk', 'marker', 'push', press('markerAdd'), { gesture: 'longPress' });
  PEDALS.forEach((action, n) => {
    const record = action.do === 'function' && action.function === 'record';
    demo.on('feet', `pedal-${n + 1}`, 'push', action, {
      ...(record ? { when: [{ flag: 'foot-record', is: 'on' as const }] } : {}),
    });
  });
  demo
    .on(
      'feet',
      'expression',
      'value',
      studio('volume', always(MUSIC_STRIP), 'follow', {
        shape: { high: 0.8, deadEnds: 0.02, curve: { kind: 's', bend: 2 } },
      }),
    )
    .when('take-starts', { host: 'studio', function: 'record', scope: HOST_WIDE, when: 'on' }, [
      flag('take', 'on'),
    ])
    .when('take-ends', { host: 'studio', function: 'record', scope: HOST_WIDE, when: 'off' }, [
      flag('take', 'off'),
    ]);
  return demo.profile;
}
