import type { Pattern } from '@rondo/core/surface';
import { hostModelSchema, type HostModel } from './catalogue.js';
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

const perStrip = (
  numbers: readonly [number, number],
  pattern: (channel: number, number: number) => Pattern,
) => STRIPS.map((_, strip) => both(pattern(channelOf(strip), numbers[blockOf(strip)])));

const hostWide = (number: number) => [both(controller(HOST_CHANNEL, number))];

/**
 * The Studio: a simulated DAW with the session of *Nine Ferries*, spoken to in plain controllers.
 * On/off functions use 102–119, undefined in MIDI 1.0 and so safest for private links.
 */
export const STUDIO: HostModel = hostModelSchema.parse({
  id: 'studio',
  name: 'Studio',
  about: 'A simulated DAW with the session Nine Ferries: 16 tracks, 3 buses and a master.',
  strips: STRIPS,
  ask: [0xf0, PRIVATE, 0x3f, 0xf7],
  bytesPerSecond: 60_000,
  functions: [
    {
      id: 'volume',
      label: 'Volume',
      words: ['level', 'fader', 'gain', 'loudness'],
      category: 'Strip',
      kind: 'continuous',
      law: 'fader',
      per: 'strip',
      messages: perStrip([7, 20], pair),
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
      messages: perStrip([10, 21], pair),
    },
    {
      id: 'mute',
      label: 'Mute',
      words: ['silence', 'off', 'cut'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      messages: perStrip([102, 110], controller),
    },
    {
      id: 'solo',
      label: 'Solo',
      words: ['alone', 'listen'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      messages: perStrip([103, 111], controller),
    },
    {
      id: 'arm',
      label: 'Arm',
      words: ['record ready', 'rec', 'input'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      // Only tracks record.
      messages: STRIPS.map(({ group }, strip) =>
        group === 'track' ? both(controller(channelOf(strip), 104)) : null,
      ),
    },
    {
      id: 'select',
      label: 'Select',
      words: ['choose', 'focus'],
      category: 'Strip',
      kind: 'toggle',
      per: 'strip',
      messages: perStrip([105, 113], controller),
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
      label: 'On one bar',
      words: ['forward', 'next', 'transport'],
      category: 'Transport',
      kind: 'trigger',
      per: 'host',
      messages: [{ set: controller(HOST_CHANNEL, 86) }],
    },
    {
      id: 'scrub',
      label: 'Move in time',
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
  ],
});
