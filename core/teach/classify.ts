import type { SentType, Track } from './capture.js';

/** What a movement says about a control. */
export interface Guess {
  readonly kind:
    | 'fader'
    | 'knob'
    | 'encoder'
    | 'wheel'
    | 'button'
    | 'pad'
    | 'switch'
    | 'key'
    | 'touch'
    | 'pedal'
    | 'unknown';
  readonly behaviour: 'continuous' | 'momentary' | 'latching' | 'positions';
  readonly encoding?: 'absolute' | 'twosComplement' | 'signMagnitude' | 'binaryOffset';
  readonly positions?: readonly number[];
  readonly confidence: number;
  readonly why: string;
}

/** What the rest of the capture says about a track. */
export interface Surroundings {
  /** A note that is down exactly while a fader moves. */
  readonly touched: boolean;
  readonly pressure: SentType | undefined;
  readonly notesOnChannel: number;
  /** Controllers numbered one beside it move too. */
  readonly neighbours: boolean;
  /** It only trembled. */
  readonly trembling: boolean;
}

/** Confidence below which a move more is asked for. */
export const THIN = 0.6;

// Times of hands, ms. Common practice, no source.
const TAP = 350;
const DELIBERATE = 400;
const QUICK = 200;
const BOUNCE = 15;
const REST = 120;

const CENTRE_14 = 8_192;
/** MIDI 1.0 controller numbers that are feet: 64 sustain, 66 sostenuto, 67 soft, 69 hold. */
const FOOT_SWITCHES = new Set([64, 66, 67, 69]);
/** MIDI 1.0: 4 foot controller, 11 expression. */
const FOOT_CONTROLLERS = new Set([4, 11]);
const MODULATION = 1;
/** General MIDI's percussion channel. */
const DRUM_CHANNEL = 10;
const CLUSTER = 16;
/** More notes than this are a keyboard’s. Common practice, no source. */
const MOST_PADS = 16;

const median = (list: readonly number[]): number =>
  list.length === 0 ? NaN : [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];

const mean = (list: readonly number[]): number =>
  list.reduce((sum, value) => sum + value, 0) / list.length;

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

interface Presses {
  /** Times from on to off, and from off to the next on, ms. */
  readonly held: number[];
  readonly apart: number[];
  readonly ons: number;
  readonly offs: number;
}

/** On and off as a hand does them; doubled messages and bounces count once. */
function presses(track: Track): Presses {
  const held: number[] = [];
  const apart: number[] = [];
  let on: boolean | null = null;
  let since = 0;
  let ons = 0;
  let offs = 0;
  const low = Math.min(...track.values);
  track.values.forEach((value, i) => {
    const t = track.times[i];
    const now = track.type === 'note' ? value > 0 : value > low;
    if (now === on) {
      if (t - since > BOUNCE) {
        if (now) ons++;
        else offs++;
        since = t;
      }
      return;
    }
    if (on !== null) (now ? apart : held).push(t - since);
    if (now) ons++;
    else offs++;
    on = now;
    since = t;
  });
  return { held, apart, ons, offs };
}

/** Momentary or self-latching, told by the hand's timing: a press is short beside the pause before the next. */
function switching({
  held,
  apart,
  ons,
  offs,
}: Presses): Pick<Guess, 'behaviour' | 'confidence' | 'why'> {
  if (ons === 0 || offs === 0)
    return {
      behaviour: 'momentary',
      confidence: ons + offs >= 3 ? 0.5 : 0.4,
      why: 'Only one of press and release came. Press and release it a few times.',
    };
  const hold = median(held);
  const pause = median(apart);
  if (held.length === 0)
    return {
      behaviour: 'latching',
      confidence: 0.45,
      why: 'It went off first and on later. Press it a few times more.',
    };
  if (held.length === 1 && apart.length === 0)
    return hold <= TAP
      ? {
          behaviour: 'momentary',
          confidence: 0.7,
          why: `On and off within ${Math.round(hold)} ms: a press and its release.`,
        }
      : {
          behaviour: 'momentary',
          confidence: 0.45,
          why: 'One slow change on and off could be a long press or two presses. Press it a few times, shortly.',
        };
  const shorter = Math.max(...held) < Math.min(...apart, Infinity);
  if (hold <= TAP && (hold < pause * 0.7 || Math.max(...held) <= QUICK))
    return {
      behaviour: 'momentary',
      confidence: held.length >= 2 ? 0.92 : 0.75,
      why: `On for about ${Math.round(hold)} ms at each press and off again: momentary.`,
    };
  const alike = mean(held) > mean(apart) * 0.55 && mean(held) < mean(apart) * 1.8;
  const enough = held.length + apart.length >= 3;
  if (hold >= DELIBERATE && alike && enough)
    return {
      behaviour: 'latching',
      confidence: 0.85,
      why: 'On stays as long as off does: each press changes it once, so it latches in hardware.',
    };
  return {
    behaviour: shorter && held.length >= 2 ? 'momentary' : 'latching',
    confidence: shorter && held.length >= 3 && hold < pause * 0.5 ? 0.65 : 0.5,
    why: 'Presses and pauses are too much alike to be sure of momentary or latching. Press it shortly, a few times.',
  };
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

function bend(track: Track): Guess {
  const { values } = track;
  if (values.length < 4)
    return {
      kind: 'unknown',
      behaviour: 'continuous',
      confidence: 0.4,
      why: 'Too few messages. Move it over its whole travel.',
    };
  const reach = Math.max(...values) - Math.min(...values);
  const rests = values.filter((_, i) => !(track.times[i + 1] - track.times[i] <= REST));
  const atCentre = rests.filter((value) => value === CENTRE_14).length / rests.length;
  // Ends at rest after moving away from it: the spring, not the hand, brought it there.
  if (atCentre > 0 && reach > 256)
    return {
      kind: 'wheel',
      behaviour: 'continuous',
      confidence: atCentre >= 0.75 ? 0.85 : 0.5,
      why:
        atCentre >= 0.75
          ? 'It springs back to the centre, 8192, when let go: a pitch wheel.'
          : 'It came to rest at the centre, 8192, but not each time. Move it and let go, a few times.',
    };
  return {
    kind: 'fader',
    behaviour: 'continuous',
    confidence: reach > 1_024 && values.length >= 6 ? 0.85 : 0.5,
    why:
      reach > 1_024
        ? 'Pitch bend that stays where it is put: a fader.'
        : 'Little movement. Move it over its whole travel.',
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

/** Relative encodings: values hug the encoding's zero on both sides and repeat, which positions never do. */
function encoder(values: readonly number[], distinct: readonly number[]): Guess | null {
  const n = values.length;
  const share = (from: number, to: number) =>
    values.filter((value) => value >= from && value <= to).length / n;
  const up = share(1, CLUSTER);
  const top = share(128 - CLUSTER, 127);
  const above = share(65, 64 + CLUSTER);
  const below = share(64 - CLUSTER, 63);
  let repeats = 0;
  for (let i = 1; i < n; i++) if (values[i] === values[i - 1]) repeats++;
  const repeating = n > 1 ? repeats / (n - 1) : 0;
  const clear = (a: number, b: number) => a + b >= 0.97 && a > 0 && b > 0;
  const few = Math.min(n, 12) / 12;
  const sure = (a: number, b: number) =>
    Math.min(a, b) * n >= 2 && n >= 5 ? 0.8 + 0.15 * few : 0.55;
  const says = (
    encoding: 'twosComplement' | 'signMagnitude' | 'binaryOffset',
    confidence: number,
    words: string,
  ): Guess => ({
    kind: 'encoder',
    behaviour: 'continuous',
    encoding,
    confidence,
    why: confidence >= THIN ? words : `${words} Turn it both ways a little more.`,
  });
  const isTwoValueButton = distinct.length === 2 && distinct[0] === 1 && repeating === 0 && n < 5;
  if (clear(up, top) && !isTwoValueButton)
    return says(
      'twosComplement',
      sure(up, top),
      'Values jump between just above 0 and just below 128: two’s complement encoder.',
    );
  if (clear(up, above))
    return says(
      'signMagnitude',
      sure(up, above),
      `Values jump between ${distinct[0]} and ${distinct[distinct.length - 1]} and nothing between: sign-magnitude encoder.`,
    );
  if (clear(above, below) && !distinct.includes(64) && (repeating >= 0.12 || distinct.length <= 4))
    return says(
      'binaryOffset',
      sure(above, below),
      'Values hug 64 on both sides, repeat, and never are 64: binary offset encoder.',
    );
  if (n < 3 || repeating < 0.3) return null;
  const oneWay = (encoding: 'twosComplement' | 'binaryOffset', which: string): Guess => ({
    kind: 'encoder',
    behaviour: 'continuous',
    encoding,
    confidence: 0.5,
    why: `${which}. Turn it the other way.`,
  });
  if (up === 1) return oneWay('twosComplement', 'Small values repeat: an encoder turned one way');
  if (above === 1)
    return oneWay('binaryOffset', 'Values just above 64 repeat: an encoder turned one way');
  if (below === 1)
    return oneWay('binaryOffset', 'Values just below 64 repeat: an encoder turned one way');
  if (top === 1 && distinct.length > 1)
    return oneWay('twosComplement', 'Values just below 128 repeat: an encoder turned one way');
  return null;
}

/** A switch with positions: a few values far apart, each come back to, nothing between. */
function positions(track: Track, distinct: readonly number[]): Guess | null {
  const { values, times } = track;
  if (distinct.length < 3 || distinct.length > 12) return null;
  const gap = Math.min(...distinct.slice(1).map((value, i) => value - distinct[i]));
  if (gap < 5) return null;
  const changes = values.filter((value, i) => i === 0 || value !== values[i - 1]).length;
  const slow = median(times.slice(1).map((t, i) => t - times[i])) >= 80;
  if (!slow) return null;
  const returned = changes > distinct.length;
  const enough = returned && changes >= distinct.length + 1;
  return {
    kind: 'switch',
    behaviour: 'positions',
    positions: distinct,
    confidence: enough ? (changes >= distinct.length * 1.5 ? 0.9 : 0.7) : 0.5,
    why: enough
      ? `Only ${distinct.join(', ')}, and nothing between: a switch with ${distinct.length} positions.`
      : 'A few values far apart: perhaps a switch. Go through all positions and back.',
  };
}

function absolute(track: Track, around: Surroundings): Guess {
  const { values, number } = track;
  const top = track.resolution === 14 ? 16_383 : 127;
  const reach = (Math.max(...values) - Math.min(...values)) / top;
  const steps = values.slice(1).map((value, i) => Math.abs(value - values[i]) / top);
  const smooth = steps.filter((step) => step <= 0.12).length / Math.max(1, steps.length);
  const enough = values.length >= 6 && reach >= 0.15;
  const confidence = !enough ? 0.45 : smooth >= 0.7 ? 0.9 : smooth >= 0.5 ? 0.65 : 0.45;
  const wide = track.resolution === 14 ? '14-bit ' : '';
  const isController = track.type === 'controlChange' && !around.neighbours;
  if (isController && FOOT_CONTROLLERS.has(number))
    return {
      kind: 'pedal',
      behaviour: 'continuous',
      confidence: Math.min(confidence, 0.7),
      why: `Smooth ${wide}positions on controller ${number}, which MIDI gives to feet: a pedal.`,
    };
  if (isController && number === MODULATION)
    return {
      kind: 'wheel',
      behaviour: 'continuous',
      confidence: Math.min(confidence, 0.7),
      why: `Smooth ${wide}positions on controller 1, modulation: a wheel.`,
    };
  const rests = track.resolution === 7 && detent(track);
  return {
    kind: rests ? 'knob' : 'fader',
    behaviour: 'continuous',
    confidence,
    why: !enough
      ? 'Too little movement. Move it over its whole travel.'
      : rests
        ? 'Smooth positions that stop at 64 in passing: a knob with a centre detent.'
        : `Smooth ${wide}positions without repeats: a fader or a knob.`,
  };
}

/** A centre detent holds the control at its middle for a moment on every pass. */
function detent({ values, times }: Track): boolean {
  const waits = times.slice(1).map((t, i) => t - times[i]);
  const usual = median(waits);
  let passes = 0;
  let stops = 0;
  for (let i = 0; i + 1 < values.length; i++) {
    if (values[i] !== 64) continue;
    passes++;
    if (waits[i] > usual * 4 + 30) stops++;
  }
  return passes >= 2 && stops === passes;
}
