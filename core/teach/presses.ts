import type { Track } from './capture.js';
import type { Guess } from './guess.js';
import { median } from './median.js';

// Times of hands, ms. Common practice, no source.
const TAP = 350;
const DELIBERATE = 400;
const QUICK = 200;
const BOUNCE = 15;

const mean = (list: readonly number[]): number =>
  list.reduce((sum, value) => sum + value, 0) / list.length;

/** How often, and how long, something was on. */
export interface Presses {
  /** Times from on to off, and from off to the next on, ms. */
  readonly held: number[];
  readonly apart: number[];
  readonly ons: number;
  readonly offs: number;
}

/** On and off as a hand does them; doubled messages and bounces count once. */
export function presses(track: Track): Presses {
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
export function switching({
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
