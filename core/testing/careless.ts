import { Lesson, MOVED, THIN, type Lore, type Step } from '@rondo/core/teach';
import { mainPart, type ControlKind } from '@rondo/core/surface';
import { Dice, MAKERS, type Line, type Made } from './captures';

/** How a careless pass over a surface went. */
export interface Pass {
  /** Controls that were taken and said to be sure, and those of them that were right. */
  sure: number;
  right: number;
  /** Movements that led to nothing and of which nothing was said. */
  deaf: number;
  /** Touches in all, for so many controls. */
  touches: number;
  controls: number;
}

const TICK_MS = 25;
const REST_MS = 1_500;
/** A hand gives up on a control after so many tries. */
const MOST_TRIES = 4;

const kindOf = (made: Made): ControlKind => {
  if (made.name.startsWith('expression')) return 'expression';
  const [kind] = made.truth.kinds;
  return kind === 'touch' || kind === 'unknown' ? 'fader' : kind;
};

const sendersOf = (lines: readonly Line[]): Set<string> =>
  new Set(
    lines.map(([, bytes]) => {
      const status = bytes[0] & 0xf0;
      const channel = bytes[0] & 0x0f;
      // Whatever chooses or carries a parameter is one sender; notes and their pressure are another.
      if (status === 0xb0)
        return `c ${channel} ${[6, 38, 98, 99, 100, 101].includes(bytes[1]) ? 'p' : bytes[1] % 32}`;
      return status <= 0xa0 ? `n ${channel} ${bytes[1]}` : `${status} ${channel}`;
    }),
  );

/** Controls of all sorts, no two of which send the same. */
function controlsOf(dice: Dice, count: number): Made[] {
  const made: Made[] = [];
  const used = new Set<string>();
  while (made.length < count) {
    const one = dice.pick(MAKERS)(dice);
    const senders = sendersOf(one.lines);
    if ([...senders].some((sender) => used.has(sender))) continue;
    for (const sender of senders) used.add(sender);
    made.push(one);
  }
  return made;
}

/**
 * A hand that teaches without waiting: it goes on after a moment, brushes what stands beside, does some controls twice, and
 * does again what it is asked for.
 */
export function carelessPass(dice: Dice, count = 6): Pass {
  const controls = controlsOf(dice, count);
  const steps = controls.map((made, i): Step => {
    const kind = kindOf(made);
    const control = {
      id: `${i}`,
      label: `Control ${i}`,
      kind,
      x: 0,
      y: 0,
      width: 20,
      height: 20,
      sends: {},
      takes: {},
    };
    return { control, part: mainPart(kind)! };
  });
  const lesson = new Lesson(steps);
  const now = new Map<number, Lore>();
  const pass: Pass = { sure: 0, right: 0, deaf: 0, touches: 0, controls: count };
  let t = 0;
  const tick = () => {
    const taken = lesson.tick(t);
    if (taken) now.set(taken.step, taken.lore);
  };
  const wait = (ms: number) => {
    for (const end = t + ms; t < end; t += TICK_MS) tick();
  };
  const play = (lines: readonly Line[]) => {
    const start = t - lines[0][0];
    for (const [at, bytes] of lines) {
      if (start + at > t) wait(start + at - t);
      lesson.feed(t, Uint8Array.from(bytes));
    }
  };
  const touch = (lines: readonly Line[]) => {
    pass.touches++;
    wait(dice.int(80, 700));
    play(lines);
  };
  controls.forEach((made, i) => {
    const beside = controls[dice.int(0, count - 1)];
    // A finger that brushes a key has pressed it; what moves can be brushed.
    if (dice.next() < 0.2 && beside !== made && MOVED.has(kindOf(beside))) {
      wait(dice.int(80, 300));
      play(beside.lines.slice(0, dice.int(1, 3)));
    }
    touch(made.lines);
    if (dice.next() < 0.15) touch(made.lines);
    if (i < count - 1) return;
    wait(REST_MS);
  });
  // What is asked for is done again, with more patience.
  for (let tries = 0; tries < MOST_TRIES * count && lesson.view.phase !== 'over'; tries++) {
    const { at, says } = lesson.view;
    const before = [...now.keys()].length;
    touch(controls[at].lines);
    wait(REST_MS);
    const { view } = lesson;
    if (view.at === at && view.says === says && view.phase === 'waiting' && now.size === before)
      pass.deaf++;
    if (view.at === at && view.phase === 'unsure' && tries % MOST_TRIES === MOST_TRIES - 1) {
      const taken = lesson.takeOffer();
      if (taken) now.set(taken.step, taken.lore);
    }
  }
  if (lesson.view.phase !== 'over') pass.deaf++;
  for (const [step, lore] of now) {
    if (lore.confidence < THIN) continue;
    pass.sure++;
    const { number } = controls[step].truth;
    const own = Object.values(lore.sends);
    if (own.some((pattern) => ('number' in pattern ? pattern.number : undefined) === number))
      pass.right++;
  }
  return pass;
}
