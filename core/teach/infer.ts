import { Capture, type SentType, type Track } from './capture.js';
import { classify } from './classify.js';
import type { Guess } from './guess.js';

/** What a control was found to send, what it is, how sure that is and why. */
export interface Finding {
  readonly sends: {
    readonly type: SentType;
    readonly channel: number;
    readonly number?: number;
    readonly resolution?: 7 | 14;
    readonly encoding?: 'absolute' | 'twosComplement' | 'signMagnitude' | 'binaryOffset';
  };
  readonly kind: Guess['kind'];
  readonly behaviour: Guess['behaviour'];
  readonly positions?: readonly number[];
  /** 0…1; below 0.6 the evidence is thin and one more move is asked for. */
  readonly confidence: number;
  /** The reason in a sentence, and what to do where it is thin. */
  readonly why: string;
}

/** Movement this small, in steps, is a control that trembles and nobody moves. */
export const TREMBLE = 2;
/** Mean time between messages of a hand at a switch, ms. */
const SLOW = 60;
/** Values that relative encoders send for single ticks. */
export const TICK_VALUES = new Set([1, 2, 62, 63, 65, 66, 126, 127]);
/** Touch and movement may miss each other by this much, ms. */
const TOUCH_SLACK = 60;

function trembles(track: Track): boolean {
  if (track.type !== 'controlChange' && track.type !== 'pitchBend') return false;
  const low = Math.min(...track.values);
  const high = Math.max(...track.values);
  const step = track.resolution === 14 ? 64 : 1;
  if (high - low > TREMBLE * step) return false;
  if (track.resolution === 7 && track.values.every((value) => TICK_VALUES.has(value))) return false;
  // A button that sends one and the same value does not tremble, nor one that sends 0 and 1 at a hand's pace.
  const span = track.times[track.times.length - 1] - track.times[0];
  const isSlowSwitch = low === 0 && high === 1 && span > track.times.length * SLOW;
  return high > low && !isSlowSwitch;
}

/** Intervals during which a note is down, ms. */
function holds(track: Track): [number, number][] {
  const list: [number, number][] = [];
  let from = -1;
  track.values.forEach((value, i) => {
    if (value > 0 && from < 0) from = track.times[i];
    else if (value === 0 && from >= 0) {
      list.push([from, track.times[i]]);
      from = -1;
    }
  });
  if (from >= 0) list.push([from, Infinity]);
  return list;
}

/** How many of some times lie within intervals, and in how many intervals any lie; both lists rise. */
function inside(
  times: readonly number[],
  list: readonly [number, number][],
): [times: number, used: number] {
  let held = 0;
  let used = 0;
  let at = 0;
  let lastUsed = -1;
  for (const t of times) {
    while (at < list.length && t > list[at][1] + TOUCH_SLACK) at++;
    if (at === list.length) break;
    if (t < list[at][0] - TOUCH_SLACK) continue;
    held++;
    if (at !== lastUsed) used++;
    lastUsed = at;
  }
  return [held, used];
}

/** Whether a note is the touch sense of a moving control: each holds the other's movement, and only that. */
function touches(list: readonly [number, number][], mover: Track): boolean {
  if (list.length === 0 || mover.values.length < 4) return false;
  const [held, used] = inside(mover.times, list);
  return held >= mover.times.length * 0.95 && used >= list.length * 0.9;
}

const moves = (track: Track): boolean =>
  (track.type === 'pitchBend' || track.type === 'controlChange' || track.type === 'nrpn') &&
  new Set(track.values).size >= 4;

/**
 * What the controls of a capture are, in the order of their first message.
 * Nothing is guessed silently: where the bytes cannot tell, confidence is below 0.6 and `why` asks for a move.
 * @param capture all that came, put in before
 */
export function infer(capture: Capture): Finding[] {
  const all = capture.finish();
  const tracks = all.filter((track) => !trembles(track));
  const movers = tracks.filter(moves);
  const pressures = tracks.filter(
    (track) => track.type === 'polyPressure' || track.type === 'channelPressure',
  );
  const notes = tracks.filter((track) => track.type === 'note');
  const held = new Map(notes.map((note) => [note, holds(note)]));
  const pressureOf = new Map<Track, Track>();
  for (const [note, list] of held) {
    const pressure = pressures.find(
      (p) =>
        p.channel === note.channel &&
        (p.type === 'channelPressure' || p.number === note.number) &&
        inside(p.times, list)[0] > 0,
    );
    if (pressure) pressureOf.set(note, pressure);
  }
  const owned = new Set(pressureOf.values());
  return (tracks.length > 0 ? tracks : all)
    .filter((track) => !owned.has(track))
    .map((track) => {
      const guess = classify(track, {
        touched:
          track.type === 'note' &&
          new Set(track.values.filter((v) => v > 0)).size === 1 &&
          movers.some((mover) => touches(held.get(track) ?? [], mover)),
        pressure: pressureOf.get(track)?.type,
        notesOnChannel: notes.filter((note) => note.channel === track.channel).length,
        neighbours: tracks.some(
          (other) =>
            other !== track &&
            other.type === 'controlChange' &&
            other.channel === track.channel &&
            Math.abs(other.number - track.number) === 1,
        ),
        trembling: tracks.length === 0,
      });
      return finding(track, guess);
    });
}

function finding(track: Track, guess: Guess): Finding {
  const hasNumber = track.number >= 0;
  const hasValue = track.type !== 'note' && track.type !== 'programChange';
  return {
    sends: {
      type: track.type,
      channel: track.channel,
      ...(hasNumber ? { number: track.number } : {}),
      ...(hasValue ? { resolution: track.resolution, encoding: guess.encoding ?? 'absolute' } : {}),
    },
    kind: guess.kind,
    behaviour: guess.behaviour,
    ...(guess.positions ? { positions: guess.positions } : {}),
    confidence: Math.round(guess.confidence * 100) / 100,
    why: guess.why,
  };
}

export { Capture };
