import type { Track } from './capture.js';
import type { Guess, Surroundings } from './guess.js';
import { presses, switching } from './presses.js';
import { absolute, bend, encoder, positions } from './travel.js';

/** MIDI 1.0 controller numbers that are feet: 64 sustain, 66 sostenuto, 67 soft, 69 hold. */
const FOOT_SWITCHES = new Set([64, 66, 67, 69]);
/** General MIDI's percussion channel. */
const DRUM_CHANNEL = 10;
/** More notes than this are a keyboard’s. Common practice, no source. */
const MOST_PADS = 16;

/** What a track of one message address is, and how sure that is. */
export function classify(track: Track, around: Surroundings): Guess {
  if (around.trembling)
    return {
      kind: 'unknown',
      behaviour: 'continuous',
      confidence: 0.2,
      why: 'The value only trembled by a step or two. Move the control over its whole travel.',
    };
  switch (track.type) {
    case 'note':
      return note(track, around);
    case 'pitchBend':
      return bend(track);
    case 'programChange':
      return program(track);
    case 'channelPressure':
    case 'polyPressure':
      return {
        kind: track.type === 'polyPressure' ? 'pad' : 'unknown',
        behaviour: 'continuous',
        confidence: 0.5,
        why: 'Pressure came without a note. Strike the pad or key and press on.',
      };
    default:
      return track.resolution === 14 ? absolute(track, around) : controller(track, around);
  }
}

function note(track: Track, around: Surroundings): Guess {
  const velocities = track.values.filter((value) => value > 0);
  const distinct = new Set(velocities).size;
  const by = switching(presses(track));
  if (around.touched)
    return {
      kind: 'touch',
      behaviour: 'momentary',
      confidence: 0.85,
      why: 'It is on exactly while the fader moves: the fader’s touch sense.',
    };
  if (around.pressure !== undefined && distinct >= 1) {
    const poly = around.pressure === 'polyPressure';
    return {
      kind: 'pad',
      behaviour: 'momentary',
      confidence: poly ? 0.85 : track.channel === DRUM_CHANNEL ? 0.7 : 0.55,
      why: `Velocity and ${poly ? 'its own' : 'the channel’s'} pressure while it is held: a pad.`,
    };
  }
  if (distinct >= 2) {
    if (track.releaseVelocities > 0)
      return {
        kind: 'key',
        behaviour: 'momentary',
        confidence: 0.75,
        why: 'Struck and released at varying speed: a key.',
      };
    if (track.channel === DRUM_CHANNEL)
      return {
        kind: 'pad',
        behaviour: 'momentary',
        confidence: 0.75,
        why: 'Varying velocity on the percussion channel: a pad.',
      };
    const several = around.notesOnChannel > MOST_PADS;
    return {
      kind: several ? 'key' : 'pad',
      behaviour: 'momentary',
      confidence: several ? 0.62 : 0.55,
      why: several
        ? 'One of several notes with varying velocity: a key.'
        : 'Varying velocity: a pad or a key. Press on to show pressure, or say which it is.',
    };
  }
  const velocity = velocities[0] ?? 0;
  if (velocities.length === 1 && velocity !== 127)
    return {
      kind: 'unknown',
      behaviour: 'momentary',
      confidence: 0.4,
      why: `One note with velocity ${velocity} could be a button, a pad or a key. Strike it softly and hard.`,
    };
  return {
    kind: 'button',
    ...by,
    // Keyboards without velocity send one value too, though hardly the highest.
    confidence: velocity === 127 ? by.confidence : Math.min(by.confidence, 0.55),
    why: `Velocity is always ${velocity}: a button. ${by.why}`,
  };
}

function program(track: Track): Guess {
  const distinct = [...new Set(track.values)].sort((a, b) => a - b);
  if (distinct.length === 1)
    return {
      kind: 'button',
      behaviour: 'momentary',
      confidence: track.values.length >= 2 ? 0.65 : 0.5,
      why: `Always program ${distinct[0]}: a button that sends on press only.`,
    };
  return {
    kind: 'switch',
    behaviour: 'positions',
    positions: distinct,
    confidence: 0.5,
    why: 'Several programs came: one selector, or a button each. Touch one at a time.',
  };
}

function controller(track: Track, around: Surroundings): Guess {
  const { values } = track;
  const distinct = [...new Set(values)].sort((a, b) => a - b);
  const relative = track.type === 'controlChange' ? encoder(values, distinct) : null;
  if (relative) return relative;
  const foot = track.type === 'controlChange' && FOOT_SWITCHES.has(track.number);
  if (
    distinct.length <= 2 &&
    (distinct[0] === 0 || distinct.length === 1 || distinct[1] - distinct[0] > 2)
  ) {
    const by = switching(presses(track));
    const pressed = distinct.length === 1 && distinct[0] !== 127 && distinct[0] !== 0;
    return {
      kind: pressed ? 'unknown' : foot ? 'pedal' : 'button',
      ...by,
      confidence: pressed ? 0.4 : by.confidence,
      why: `Only ${distinct.join(' and ')} came. ${by.why}`,
    };
  }
  const stepped = positions(track, distinct);
  return stepped ?? absolute(track, around);
}
