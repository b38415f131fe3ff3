import type { Action, FunctionAction } from '../action.js';
import { emptyProfile, type Profile } from '../profile.js';
import { zonesOf } from '../shape.js';
import { DemoBuilder, HOST_WIDE, SELECTED_ONE, actionsOf, always, choice } from './builder.js';

const booth = actionsOf('booth');

const DECKS = 4;
const LENGTHS = 12;
/** The loop lengths that a row of pads chooses: ¼ to 32 beats. */
const FIRST_LENGTH = 3;
const SEMITONES = 25;
const MIDDLE = 12;
/** How wide the middle of a knob with a detent counts as the exact middle. */
const DETENT = 0.03;

const press = (functionId: string) => booth(functionId, SELECTED_ONE, 'set', { to: 1 });
const toggle = (functionId: string) => booth(functionId, SELECTED_ONE, 'toggle');
const follow = (functionId: string) => booth(functionId, SELECTED_ONE, 'follow');
const wide = (functionId: string, behaviour: FunctionAction['behaviour'], more = {}) =>
  booth(functionId, HOST_WIDE, behaviour, more);

function mixer(demo: DemoBuilder): void {
  for (const [side, deck] of [
    ['left', 0],
    ['right', 1],
  ] as const) {
    const scope = always(deck);
    const on = (control: string, part: 'value' | 'push', action: Action) =>
      demo.on('mixer', `${side}-${control}`, part, action);
    on('trim', 'value', booth('gain', scope, 'follow'));
    for (const band of ['high', 'mid', 'low', 'filter'])
      on(band, 'value', booth(band, scope, 'follow', { shape: { deadMiddle: DETENT } }));
    on('fader', 'value', booth('fader', scope, 'follow'));
    on('cue', 'push', booth('headphone', scope, 'toggle'));
    // The key stays in by itself: in, it plays, and out, it stops.
    on('send', 'push', deck === 0 ? wide('effect1On', 'toggle') : wide('sampler8', 'momentary'));
  }
  demo
    .on('mixer', 'crossfader', 'value', wide('crossfader', 'follow'))
    .on(
      'mixer',
      'curve',
      'value',
      wide('curve', 'follow', { shape: { zones: zonesOf([0, 0.5, 1]) } }),
    );
}

function pads(demo: DemoBuilder): void {
  const row = (first: number, actions: readonly (Action | readonly Action[])[], layer?: string) => {
    actions.forEach((action, n) => {
      demo.on('pads', `pad-${first + n}`, 'push', action, layer === undefined ? {} : { layer });
    });
  };
  const upTo = <T>(total: number, make: (n: number) => T): T[] =>
    Array.from({ length: total }, (_, n) => make(n));
  for (let deck = 0; deck < DECKS; deck++)
    row(
      deck * 8 + 1,
      upTo(8, (n) => booth(`hotCue${n + 1}`, always(deck), 'set', { to: 1 })),
    );
  row(
    33,
    upTo(8, (n) => [
      booth('loopLength', SELECTED_ONE, 'set', choice(FIRST_LENGTH + n, LENGTHS)),
      booth('loop', SELECTED_ONE, 'set', { to: 1 }),
    ]),
  );
  row(
    41,
    upTo(DECKS, (deck) => booth('play', always(deck), 'toggle')),
  );
  row(
    45,
    upTo(DECKS, (deck) => booth('sync', always(deck), 'toggle')),
  );
  row(
    49,
    upTo(4, (n) => toggle(`stemMute${n + 1}`)),
  );
  row(
    53,
    upTo(4, (n) => toggle(`stemSolo${n + 1}`)),
  );
  row(
    57,
    upTo(8, (n) => wide(`sampler${n + 1}`, 'toggle')),
  );
  // Tones over the pads: one for each semitone, the middle one in the middle.
  row(
    1,
    upTo(SEMITONES, (n) => booth('keyShift', SELECTED_ONE, 'set', choice(n, SEMITONES))),
    'tones',
  );
  for (let deck = 0; deck < DECKS; deck++)
    demo.on('pads', `edge-${deck + 1}`, 'push', wide('focusDeck', 'set', choice(deck, DECKS)));
  const edges: readonly Action[] = [
    { do: 'layer', layer: 'tones', how: 'toggle' },
    { do: 'layer', layer: 'clear', how: 'hold' },
    wide('effect1Kind', 'step', { by: 1, wrap: true }),
    wide('effect2Kind', 'step', { by: 1, wrap: true }),
    press('jumpBack'),
    press('jumpOn'),
    wide('effect2Fitted', 'toggle'),
    wide('record', 'toggle'),
  ];
  edges.forEach((action, n) => demo.on('pads', `edge-${n + 5}`, 'push', action));
  demo.on(
    'pads',
    'edge-12',
    'push',
    { do: 'flag', flag: 'late', how: 'toggle' },
    {
      gesture: 'longPress',
    },
  );
  // While Clear is held, a pad of the deck in focus clears the cue that was used last.
  for (let pad = 1; pad <= 32; pad++)
    demo.on('pads', `pad-${pad}`, 'push', press('hotCueClear'), { layer: 'clear' });
}

function keyboard(demo: DemoBuilder): void {
  const FIRST_TONE = 4;
  for (let n = 0; n < SEMITONES; n++)
    demo.on(
      'keys',
      `key-${FIRST_TONE + n}`,
      'push',
      booth('keyShift', SELECTED_ONE, 'set', choice(n, SEMITONES)),
    );
  const rest: Readonly<Record<string, Action>> = {
    'key-1': press('loopHalve'),
    'key-2': toggle('loop'),
    'key-3': press('loopDouble'),
    'key-29': press('hotCueLast'),
    'key-30': toggle('keyLock'),
    'key-31': toggle('quantise'),
    'key-32': booth('keyShift', SELECTED_ONE, 'set', choice(MIDDLE, SEMITONES)),
    'pad-1': press('load'),
    'pad-2': booth('cue', SELECTED_ONE, 'momentary'),
    'pad-3': toggle('play'),
    'pad-4': press('loopIn'),
    'pad-5': press('loopOut'),
    'pad-6': toggle('sync'),
    'transport-1': wide('chosen', 'step', { by: -1 }),
    'transport-2': wide('chosen', 'step', { by: 1 }),
    'transport-3': wide('focusDeck', 'step', { by: 1, wrap: true }),
    'transport-4': wide('effect2On', 'toggle'),
  };
  for (const [control, action] of Object.entries(rest)) demo.on('keys', control, 'push', action);
  demo.on('keys', 'pad-1', 'push', press('eject'), { gesture: 'longPress' });
  const knobs = [
    'effect1Amount',
    'effect1Time',
    'effect2Amount',
    'effect2Time',
    'effectLastAmount',
  ];
  knobs.forEach((fn, n) => demo.on('keys', `knob-${n + 1}`, 'value', wide(fn, 'follow')));
  for (let n = 1; n <= 4; n++)
    demo.on('keys', `knob-${n}`, 'value', follow(`stem${n}`), { layer: 'stems' });
  demo
    .on('keys', 'knob-5', 'value', follow('balance'), { layer: 'stems' })
    .on('keys', 'fader-1', 'value', wide('samplerLevel', 'follow'))
    .on('keys', 'fader-2', 'value', wide('headphoneLevel', 'follow'))
    .on('keys', 'pitch', 'value', follow('bend'))
    .on('keys', 'modulation', 'value', wide('headphoneMix', 'follow'));
}

/** The demo profile *Neap Rink*: Crosstie 2, Cobble 64 and Plinth 32 play the Booth. */
export function neapRink(profileId = 'neap-rink'): Profile {
  const demo = new DemoBuilder({
    ...emptyProfile(profileId, 'Neap Rink'),
    surfaces: {
      mixer: { id: 'mixer', model: 'crosstie-2', label: 'Crosstie 2' },
      pads: { id: 'pads', model: 'cobble-64', label: 'Cobble 64' },
      keys: { id: 'keys', model: 'plinth-32', label: 'Plinth 32' },
    },
    surfaceOrder: ['mixer', 'pads', 'keys'],
    hosts: { booth: { id: 'booth', model: 'booth', label: 'Booth' } },
    hostOrder: ['booth'],
  })
    .layer({ id: 'stems', label: 'Stems', page: { surface: 'keys', page: 'stage' } })
    .layer({ id: 'tones', label: 'Tones' })
    .layer({ id: 'clear', label: 'Clear' })
    .flag('late', 'Last hour');
  mixer(demo);
  pads(demo);
  keyboard(demo);
  return demo.profile;
}
