import type { Track } from './capture.js';
import { THIN, type Guess, type Surroundings } from './guess.js';
import { median } from './median.js';

/** Who has not moved for so long has come to rest, ms. Common practice, no source. */
const REST = 120;
const CENTRE_14 = 8_192;
/** MIDI 1.0: 4 foot controller, 11 expression. */
const FOOT_CONTROLLERS = new Set([4, 11]);
const MODULATION = 1;
/** How far from its zero a relative encoding's values lie. */
const CLUSTER = 16;

/** A pitch bend: what springs back is a wheel, what stays a fader. */
export function bend(track: Track): Guess {
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

/** Relative encodings: values hug the encoding's zero on both sides and repeat, which positions never do. */
export function encoder(values: readonly number[], distinct: readonly number[]): Guess | null {
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
export function positions(track: Track, distinct: readonly number[]): Guess | null {
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

/** What has a place of its own: a fader, a knob, a pedal or a wheel. */
export function absolute(track: Track, around: Surroundings): Guess {
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
