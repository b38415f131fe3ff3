import type { Pattern } from '@rondo/core/surface';
import { hostModelSchema, type HostModel } from './catalogue.js';
import { inTradeColour } from './trade-colours.js';
import { Numbers, sketched, type Sketch } from './numbered.js';
import { panLaw } from './law.js';

/** The session *Nine Ferries*, ours. */
const TRACKS = [
  'Narrator',
  'Ferryman',
  'Foghorn',
  'Bow Wave',
  'Engine Room',
  'Gulls',
  'Rain Bed',
  'Cello',
  'Bass Clarinet',
  'Bowed Saw',
  'Choir',
  'Timpani',
  'Piano',
  'Radio Voice',
  'Room Tone',
  'Slack Tide',
];
const BUSES = ['Dialogue', 'Effects', 'Music'];
const STRIPS = [
  ...TRACKS.map((name) => ({ name, group: 'track' as const })),
  ...BUSES.map((name) => ({ name, group: 'bus' as const })),
  { name: 'Master', group: 'master' as const },
];

/**
 * Manufacturer id of everything the Studio says as SysEx: 7D, kept for non-commercial use by MIDI 1.0.
 */
const PRIVATE = 0x7d;
const NAME = 0x4e;
const CLOCK_TEXT = 0x54;
/** Channel of what belongs to the whole host. */
const HOST_CHANNEL = 16;

/** Strips 1–16 have channels 1–16; strips 17–20 channels 1–4 with other numbers. */
const blockOf = (strip: number) => (strip < 16 ? 0 : 1);
const channelOf = (strip: number) => (strip % 16) + 1;

/** MSB and LSB controllers are 32 apart (MIDI 1.0). 7 is volume, 10 pan; 20–31 are undefined there. */
const pair = (channel: number, number: number): Pattern => ({
  type: 'controllerPair',
  channel,
  number,
  lsb: number + 32,
});
const controller = (channel: number, number: number): Pattern => ({
  type: 'controller',
  channel,
  number,
});
const both = (pattern: Pattern) => ({ set: pattern, report: pattern });

const numbers = new Numbers(HOST_CHANNEL, [PRIVATE, 0x50]);

const perStrip = (
  controllers: readonly [number, number],
  pattern: (channel: number, number: number) => Pattern,
  kind: 'continuous' | 'toggle',
) => [
  ...STRIPS.map((_, strip) => both(pattern(channelOf(strip), controllers[blockOf(strip)]))),
  numbers.one(kind),
];

const hostWide = (number: number) => [both(controller(HOST_CHANNEL, number))];

/** Where tracks can be sent to beside their bus. */
export const SENDS = BUSES;

/** Inserts of every strip, in order, with their parameters. */
export const INSERTS: readonly {
  readonly name: string;
  readonly also: string;
  readonly parameters: readonly (Pick<Sketch, 'label'> & Partial<Pick<Sketch, 'law' | 'rest'>>)[];
}[] = [
  {
    name: 'Equaliser',
    also: 'eq, tone, filter',
    parameters: [
      { label: 'Low gain', law: 'gain', rest: 0.5 },
      { label: 'Low frequency', law: 'frequency', rest: 0.25 },
      { label: 'Low-mid gain', law: 'gain', rest: 0.5 },
      { label: 'Low-mid frequency', law: 'frequency', rest: 0.45 },
      { label: 'Low-mid Q', law: 'quality', rest: 0.4 },
      { label: 'High-mid gain', law: 'gain', rest: 0.5 },
      { label: 'High-mid frequency', law: 'frequency', rest: 0.7 },
      { label: 'High-mid Q', law: 'quality', rest: 0.4 },
      { label: 'High gain', law: 'gain', rest: 0.5 },
      { label: 'High frequency', law: 'frequency', rest: 0.85 },
      { label: 'Low cut', law: 'frequency', rest: 0 },
      { label: 'Output', law: 'gain', rest: 0.5 },
    ],
  },
  {
    name: 'Compressor',
    also: 'dynamics, comp',
    parameters: [
      { label: 'Threshold', law: 'threshold', rest: 1 },
      { label: 'Ratio', law: 'ratio', rest: 0.4 },
      { label: 'Attack', law: 'time', rest: 0.3 },
      { label: 'Release', law: 'time', rest: 0.6 },
      { label: 'Make-up', law: 'gain', rest: 0.5 },
      { label: 'Mix', law: 'percent', rest: 1 },
    ],
  },
  {
    name: 'Echo',
    also: 'delay, repeat',
    parameters: [
      { label: 'Time', law: 'time', rest: 0.75 },
      { label: 'Feedback', law: 'percent', rest: 0.3 },
      { label: 'Tone', law: 'frequency', rest: 0.8 },
      { label: 'Mix', law: 'percent', rest: 0 },
    ],
  },
];

/** Parameter slots of what has focus, and how many scenes the clip grid has. */
export const FOCUS_SLOTS = 8;
export const SCENES = 8;
export const MARKERS = 8;
export const USER_ACTIONS = 8;
export const AUTOMATION_STATES = ['Off', 'Read', 'Write', 'Touch', 'Latch'] as const;
export const VIEWS = ['Mixer', 'Focus', 'Clips', 'Song'] as const;
export const CLIP_STATES = ['Empty', 'Stopped', 'Waiting', 'Playing', 'Recording'] as const;

function more() {
  const count = STRIPS.length;
  const strips = (sketch: Sketch, has: (strip: number) => boolean = () => true) =>
    sketched(sketch, 'strip', numbers.many(sketch.kind, count + 1, has, sketch.told));
  const tracks = (sketch: Sketch) =>
    strips(sketch, (strip) => strip < TRACKS.length || strip === count);
  const host = (sketch: Sketch) =>
    sketched(sketch, 'host', [numbers.one(sketch.kind, sketch.told)]);
  const trigger = (id: string, label: string, category: Sketch['category'], also: string) =>
    host({ id, label, category, kind: 'trigger', also });
  const toggle = (id: string, label: string, category: Sketch['category'], also: string) =>
    host({ id, label, category, kind: 'toggle', also });
  const place = (id: string, label: string, category: Sketch['category'], also: string) =>
    host({ id, label, category, kind: 'continuous', law: 'bars', also });
  const numbered = (total: number, make: (n: number) => ReturnType<typeof host>) =>
    Array.from({ length: total }, (_, index) => make(index + 1));

  return [
    strips({
      id: 'meterLeft',
      label: 'Left level',
      category: 'Strip',
      kind: 'meter',
      law: 'meter',
      also: 'peak, vu, stereo',
    }),
    strips({
      id: 'meterRight',
      label: 'Right level',
      category: 'Strip',
      kind: 'meter',
      law: 'meter',
      also: 'peak, vu, stereo',
    }),
    ...SENDS.map((bus, index) =>
      tracks({
        id: `send${index + 1}`,
        label: `Send to ${bus}`,
        category: 'Sends',
        kind: 'continuous',
        law: 'fader',
        also: `aux, send ${index + 1}, bus`,
      }),
    ),
    strips({
      id: 'automation',
      label: 'Automation state',
      category: 'Automation',
      kind: 'choice',
      choices: [...AUTOMATION_STATES],
      also: 'read, write, touch, latch, off, lane',
    }),
    ...INSERTS.flatMap(({ name, also, parameters }, insert) => [
      strips({
        id: `insert${insert + 1}On`,
        label: `${name} on`,
        category: 'Inserts',
        kind: 'toggle',
        also: `${also}, plug-in, bypass, insert ${insert + 1}`,
      }),
      ...parameters.map((parameter, index) =>
        strips({
          ...parameter,
          id: `insert${insert + 1}Parameter${index + 1}`,
          label: `${name} ${parameter.label.charAt(0).toLowerCase()}${parameter.label.slice(1)}`,
          category: 'Inserts',
          kind: 'continuous',
          also: `${also}, plug-in, parameter, insert ${insert + 1}`,
        }),
      ),
    ]),
    host({
      id: 'focusInsert',
      label: 'Insert in focus',
      category: 'Focus',
      kind: 'choice',
      choices: INSERTS.map(({ name }) => name),
      also: 'plug-in, effect, selected',
    }),
    host({
      id: 'focusPage',
      label: 'Page of parameters',
      category: 'Focus',
      kind: 'choice',
      choices: ['1', '2'],
      also: 'plug-in, bank',
    }),
    trigger('focusNext', 'Next insert', 'Focus', 'plug-in, forward'),
    trigger('focusPrevious', 'Previous insert', 'Focus', 'plug-in, back'),
    host({
      id: 'focusOn',
      label: 'Insert in focus on',
      category: 'Focus',
      kind: 'toggle',
      also: 'plug-in, bypass',
    }),
    host({
      id: 'focusName',
      label: 'Name of the insert in focus',
      category: 'Focus',
      kind: 'text',
    }),
    ...numbered(FOCUS_SLOTS, (n) =>
      host({
        id: `focus${n}`,
        label: `Parameter ${n} of the plug-in in focus`,
        category: 'Focus',
        kind: 'continuous',
        law: 'percent',
        needs: `focusHas${n}`,
        also: `plug-in, slot ${n}, macro`,
      }),
    ),
    ...numbered(FOCUS_SLOTS, (n) =>
      host({
        id: `focusHas${n}`,
        label: `Parameter ${n} is there`,
        category: 'Focus',
        kind: 'toggle',
        told: true,
      }),
    ),
    ...numbered(FOCUS_SLOTS, (n) =>
      host({
        id: `focusText${n}`,
        label: `Parameter ${n}, name and value`,
        category: 'Focus',
        kind: 'text',
      }),
    ),
    trigger('toStart', 'To the start', 'Transport', 'zero, return, begin, home'),
    trigger('tapTempo', 'Tap tempo', 'Transport', 'beat, bpm'),
    toggle('punch', 'Punch', 'Transport', 'record in and out, drop in'),
    place('punchIn', 'Punch in', 'Transport', 'record from'),
    place('punchOut', 'Punch out', 'Transport', 'record to'),
    place('loopStart', 'Loop start', 'Transport', 'cycle from, left'),
    place('loopEnd', 'Loop end', 'Transport', 'cycle to, right'),
    trigger('markerAdd', 'Add a marker', 'Markers', 'locator, cue, set'),
    trigger('markerNext', 'Next marker', 'Markers', 'locator, forward'),
    trigger('markerPrevious', 'Previous marker', 'Markers', 'locator, back'),
    ...numbered(MARKERS, (n) =>
      trigger(`marker${n}`, `To marker ${n}`, 'Markers', `locator ${n}, jump`),
    ),
    host({ id: 'markerName', label: 'Name of the last marker', category: 'Markers', kind: 'text' }),
    host({
      id: 'zoomAcross',
      label: 'Zoom in time',
      category: 'View',
      kind: 'continuous',
      law: 'percent',
      view: true,
      also: 'horizontal, time',
    }),
    host({
      id: 'zoomDown',
      label: 'Zoom in height',
      category: 'View',
      kind: 'continuous',
      law: 'percent',
      view: true,
      also: 'vertical, tracks',
    }),
    trigger('undo', 'Undo', 'Edit', 'back, revert'),
    trigger('redo', 'Redo', 'Edit', 'again'),
    trigger('save', 'Save', 'Edit', 'store, keep'),
    host({
      id: 'unsaved',
      label: 'Changed since the last save',
      category: 'Edit',
      kind: 'toggle',
      told: true,
      also: 'dirty, modified',
    }),
    ...numbered(SCENES, (n) =>
      tracks({
        id: `clip${n}`,
        label: `Clip ${n}`,
        category: 'Clips',
        kind: 'choice',
        choices: [...CLIP_STATES],
        waits: 'Waiting',
        also: `slot, cell, launch, scene ${n}`,
      }),
    ),
    tracks({
      id: 'clipStop',
      label: 'Stop the clips',
      category: 'Clips',
      kind: 'trigger',
      also: 'halt, slot',
    }),
    ...numbered(SCENES, (n) => trigger(`scene${n}`, `Scene ${n}`, 'Clips', `launch, row ${n}`)),
    trigger('clipStopAll', 'Stop all clips', 'Clips', 'halt'),
    host({
      id: 'cellTrack',
      label: 'Chosen cell: track',
      category: 'Clips',
      kind: 'choice',
      choices: [...TRACKS],
      also: 'clip, grid, column',
    }),
    host({
      id: 'cellScene',
      label: 'Chosen cell: scene',
      category: 'Clips',
      kind: 'choice',
      choices: Array.from({ length: SCENES }, (_, i) => `Scene ${i + 1}`),
      also: 'clip, grid, row',
    }),
    host({ id: 'cellName', label: 'Chosen cell: clip', category: 'Clips', kind: 'text' }),
    host({
      id: 'noteEnter',
      label: 'Enter a note',
      category: 'Clips',
      kind: 'choice',
      choices: Array.from({ length: 128 }, (_, note) => `Note ${note}`),
      ofNotes: true,
      also: 'step, key, write, input',
    }),
    trigger('restEnter', 'Enter a rest', 'Clips', 'step, pause, write, input'),
    trigger('clipInsert', 'Insert a clip', 'Clips', 'new, create'),
    trigger('clipCopy', 'Copy the clip', 'Clips', 'clipboard'),
    trigger('clipPaste', 'Paste the clip', 'Clips', 'clipboard'),
    trigger('clipDuplicate', 'Duplicate the clip', 'Clips', 'double, copy below'),
    trigger('clipDelete', 'Delete the clip', 'Clips', 'remove, clear'),
    trigger('clipQuantise', 'Quantise the clip', 'Clips', 'grid, timing'),
    trigger('clipSplit', 'Split the clip', 'Clips', 'cut, halve'),
    ...numbered(USER_ACTIONS, (n) =>
      trigger(`user${n}`, `User action ${n}`, 'Actions', `macro, script ${n}`),
    ),
    host({ id: 'lastAction', label: 'Last action', category: 'Actions', kind: 'text' }),
    trigger('trackNext', 'Next track', 'View', 'select, forward, right'),
    trigger('trackPrevious', 'Previous track', 'View', 'select, back, left'),
    host({
      id: 'front',
      label: 'View in front',
      category: 'View',
      kind: 'choice',
      choices: [...VIEWS],
      view: true,
      also: 'page, window, screen, mixer, clips, song',
    }),
  ];
}

/**
 * The Studio: a simulated DAW with the session of *Nine Ferries*, spoken to in plain controllers.
 * On/off functions use 102–119, undefined in MIDI 1.0 and so safest for private links.
 */
export const STUDIO: HostModel = hostModelSchema.parse({
  arms: 'arm',
  id: 'studio',
  name: 'Studio',
  about: 'A simulated DAW with the session Nine Ferries: 16 tracks, 3 buses and a master.',
  strips: STRIPS,
  stripWord: 'track',
  selectedWord: 'the selected track',
  ask: [0xf0, PRIVATE, 0x3f, 0xf7],
  bytesPerSecond: 60_000,
  focus: {
    function: 'focusInsert',
    items: INSERTS.map(({ name, parameters }, insert) => ({
      label: name,
      parameters: parameters.map((_, index) => `insert${insert + 1}Parameter${index + 1}`),
    })),
  },
  functions: [
    {
      id: 'volume',
      label: 'Volume',
      words: ['level', 'fader', 'gain', 'loudness'],
      category: 'Strip',
      kind: 'continuous',
      law: 'fader',
      per: 'strip',
      messages: perStrip([7, 20], pair, 'continuous'),
    },
    {
      id: 'pan',
      label: 'Pan',
      words: ['balance', 'left', 'right', 'position'],
      category: 'Strip',
      kind: 'continuous',
      law: 'pan',
      rest: panLaw.fromUnit(0),
      per: 'strip',
      messages: perStrip([10, 21], pair, 'continuous'),
    },
    {
      id: 'mute',
      label: 'Mute',
      words: ['silence', 'off', 'cut'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      messages: perStrip([102, 110], controller, 'toggle'),
    },
    {
      id: 'solo',
      label: 'Solo',
      words: ['alone', 'listen'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      // There is nothing to hear the master apart from.
      messages: perStrip([103, 111], controller, 'toggle').map((messages, strip) =>
        strip === STRIPS.length - 1 ? null : messages,
      ),
    },
    {
      id: 'arm',
      label: 'Arm',
      words: ['record ready', 'rec', 'input'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      // Only tracks record.
      messages: [
        ...STRIPS.map(({ group }, strip) =>
          group === 'track' ? both(controller(channelOf(strip), 104)) : null,
        ),
        numbers.one('toggle'),
      ],
    },
    {
      id: 'select',
      label: 'Select',
      words: ['choose', 'focus'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      messages: perStrip([105, 113], controller, 'toggle').slice(0, STRIPS.length),
    },
    {
      id: 'meter',
      label: 'Level meter',
      words: ['peak', 'vu'],
      category: 'Strip',
      kind: 'meter',
      law: 'meter',
      per: 'strip',
      messages: STRIPS.map((_, strip) => ({
        report: controller(channelOf(strip), [106, 114][blockOf(strip)]),
      })),
    },
    {
      id: 'name',
      label: 'Track name',
      words: ['title', 'text'],
      category: 'Strip',
      kind: 'text',
      per: 'strip',
      messages: STRIPS.map((_, strip) => ({
        report: { type: 'text', header: [PRIVATE, NAME, strip] },
      })),
    },
    {
      id: 'play',
      label: 'Play',
      words: ['start', 'run', 'transport'],
      category: 'Transport',
      kind: 'toggle',
      per: 'host',
      messages: hostWide(115),
    },
    {
      id: 'stop',
      label: 'Stop',
      words: ['halt', 'transport'],
      category: 'Transport',
      kind: 'toggle',
      per: 'host',
      messages: hostWide(116),
    },
    {
      id: 'record',
      label: 'Record',
      words: ['rec', 'transport', 'take'],
      category: 'Transport',
      kind: 'toggle',
      per: 'host',
      messages: hostWide(117),
    },
    {
      id: 'loop',
      label: 'Loop',
      words: ['cycle', 'repeat'],
      category: 'Transport',
      kind: 'toggle',
      per: 'host',
      messages: hostWide(118),
    },
    {
      id: 'click',
      label: 'Click',
      words: ['metronome', 'count'],
      category: 'Transport',
      kind: 'toggle',
      per: 'host',
      messages: hostWide(119),
    },
    {
      id: 'rewind',
      label: 'Back one bar',
      words: ['rewind', 'previous', 'transport'],
      category: 'Transport',
      kind: 'trigger',
      per: 'host',
      messages: [{ set: controller(HOST_CHANNEL, 85) }],
    },
    {
      id: 'forward',
      label: 'Forward one bar',
      words: ['forward', 'next', 'transport'],
      category: 'Transport',
      kind: 'trigger',
      per: 'host',
      messages: [{ set: controller(HOST_CHANNEL, 86) }],
    },
    {
      id: 'scrub',
      label: 'Scrub',
      words: ['jog', 'shuttle', 'nudge', 'wheel', 'position', 'scrub'],
      category: 'Transport',
      kind: 'nudge',
      per: 'host',
      messages: [
        {
          set: { type: 'relative', channel: HOST_CHANNEL, number: 87, encoding: 'twosComplement' },
        },
      ],
    },
    {
      id: 'tempo',
      label: 'Tempo',
      words: ['bpm', 'speed', 'beats'],
      category: 'Transport',
      kind: 'continuous',
      law: 'tempo',
      per: 'host',
      messages: [both(pair(HOST_CHANNEL, 22))],
    },
    {
      id: 'time',
      label: 'Time',
      words: ['position', 'clock', 'bars'],
      category: 'View',
      kind: 'text',
      per: 'host',
      messages: [{ report: { type: 'text', header: [PRIVATE, CLOCK_TEXT] } }],
    },
    ...more(),
  ].map(inTradeColour),
});
