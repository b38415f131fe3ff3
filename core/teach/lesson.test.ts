import type { Control, ControlKind, InputPart, Surface } from '@rondo/core/surface';
import { BURROW_14, deviceSheet, mainPart, newRow, unknownSurface } from '@rondo/core/surface';
import { Dice, MAKERS, type Line, type Made } from '../testing/captures';
import { carelessPass } from '../testing/careless';
import { Lesson, applyLore, askFor, stepsNow, stepsOf, type LessonView, type Lore } from './index';

const drawn = (kind: ControlKind, label: string): Control => ({
  id: label,
  kind,
  label,
  x: 0,
  y: 0,
  width: 20,
  height: 20,
  sends: {},
  takes: {},
});
const step = (kind: ControlKind, label = kind, part: InputPart = mainPart(kind)!) => ({
  control: drawn(kind, label),
  part,
});

/** A hand at a lesson: plays lines in their time, then lets the control rest. */
class Hand {
  t = 0;
  readonly taken: { step: number; lore: Lore }[] = [];
  constructor(readonly lesson: Lesson) {}
  get view(): LessonView {
    return this.lesson.view;
  }
  play(lines: readonly Line[]): this {
    const start = this.t + 100;
    let next = 0;
    const end = start + (lines.at(-1)?.[0] ?? 0) + 1_500;
    for (; this.t < end; this.t += 25) {
      while (next < lines.length && start + lines[next][0] <= this.t) {
        this.lesson.feed(start + lines[next][0], Uint8Array.from(lines[next][1]));
        next++;
      }
      const taken = this.lesson.tick(this.t);
      if (taken) this.taken.push(taken);
    }
    return this;
  }
}

const KIND_OF = (made: Made): ControlKind => {
  const [kind] = made.truth.kinds;
  return kind === 'touch' || kind === 'unknown' ? 'fader' : kind;
};
const sweep = (number: number, channel = 0): Line[] =>
  Array.from({ length: 120 }, (_, i) => [
    i * 12,
    [0xb0 | channel, number, i < 60 ? i * 2 : (119 - i) * 2],
  ]);
const press = (number: number): Line[] => [
  [0, [0x90, number, 127]],
  [120, [0x90, number, 0]],
  [600, [0x90, number, 127]],
  [730, [0x90, number, 0]],
];

test('a whole pass over every kind of control is taken rightly, with a knob trembling and clock all the time', () => {
  const dice = new Dice(5);
  // A pause in a movement is not its end; what the generator does in one capture is one touch here.
  const all = MAKERS.map((make) => make(dice)).filter((made) => !made.name.includes('touch'));
  const hand = new Hand(
    new Lesson(all.map((made, i) => step(KIND_OF(made), `${made.name} ${i}` as ControlKind))),
  );
  all.forEach((made, at) => {
    const end = made.lines.at(-1)![0];
    const noise: Line[] = Array.from({ length: Math.floor(end / 40) }, (_, i) => [
      i * 40,
      i % 3 === 0 ? [0xf8] : [0xbf, 119, 63 + (i % 2)],
    ]);
    hand.lesson.goTo(at);
    hand.play([...made.lines, ...noise].sort((a, b) => a[0] - b[0]));
    if (hand.view.phase === 'unsure') hand.play(made.lines);
    const found = hand.taken.findLast((taken) => taken.step === at);
    const pattern = Object.values(found?.lore.sends ?? {})[0];
    const numbered = pattern && 'number' in pattern ? pattern.number : undefined;
    expect([made.name, numbered]).toEqual([made.name, made.truth.number]);
    expect([made.name, found?.lore.latching]).toEqual([
      made.name,
      made.truth.behaviour === 'latching',
    ]);
    if (made.truth.positions) expect(found?.lore.positions).toEqual(made.truth.positions);
  });
});

test('the drawing decides between fader and knob, pad and key, encoder and jog wheel', () => {
  const ticks: Line[] = [...[1, 1, 1, 2, 1], ...[127, 127, 126, 127, 127]].map((v, i) => [
    i * 60,
    [0xb0, 20, v],
  ]);
  const hand = new Hand(
    new Lesson([
      step('fader'),
      step('knob'),
      step('pad'),
      step('key'),
      step('encoder'),
      step('jog'),
    ]),
  );
  hand.play(sweep(30)).play(sweep(31)).play(press(60)).play(press(61)).play(ticks);
  hand.play(ticks.map(([t, [status, , v]]) => [t, [status, 21, v]]));
  expect(hand.taken.map(({ lore }) => lore.kind)).toEqual([
    'fader',
    'knob',
    'pad',
    'key',
    'encoder',
    'jog',
  ]);
  expect(hand.view.phase).toBe('over');
});

test('what is drawn as a knob and ticks is an encoder; its first turn was clockwise, because that was asked', () => {
  const other: Line[] = [...[127, 127, 126, 127, 127], ...[1, 1, 1, 2, 1]].map((v, i) => [
    i * 60,
    [0xb0, 20, v],
  ]);
  const hand = new Hand(new Lesson([step('knob')])).play(other);
  expect(hand.taken[0].lore).toMatchObject({
    kind: 'encoder',
    sends: { value: { type: 'relative', encoding: 'twosComplement', reversed: true } },
  });
});

test('an encoder turned one way only is asked to turn the other way; then it is taken', () => {
  const one: Line[] = [1, 1, 2, 1, 1].map((v, i) => [i * 60, [0xb0, 20, v]]);
  const hand = new Hand(new Lesson([step('encoder')])).play(one);
  expect([hand.view.phase, hand.taken.length]).toEqual(['unsure', 0]);
  expect(hand.view.says).toMatch('the other way');
  hand.play(one.map(([t, [status, number, v]]) => [t, [status, number, 64 + v]]));
  expect(hand.taken[0].lore.sends.value).toMatchObject({ encoding: 'signMagnitude' });
});

test('a message that another control has is not taken silently; it can be taken all the same', () => {
  const hand = new Hand(
    new Lesson([step('knob', 'Knob 1' as 'knob'), step('knob', 'Knob 2' as 'knob')]),
  );
  hand.play(sweep(20)).play(sweep(20));
  expect([hand.view.at, hand.view.phase]).toEqual([1, 'unsure']);
  expect(hand.view.says).toMatch('Knob 1');
  expect(hand.lesson.takeOffer()?.step).toBe(1);
  expect(hand.view.phase).toBe('over');
});

test('back, skip and redo go where they say, and what was heard for one step is not carried to another', () => {
  const hand = new Hand(new Lesson([step('knob', 'a' as 'knob'), step('knob', 'b' as 'knob')]));
  hand.lesson.feed(10, Uint8Array.of(0xb0, 20, 1));
  hand.lesson.goTo(1);
  expect(hand.view).toMatchObject({ at: 1, phase: 'waiting' });
  hand.play(sweep(21));
  expect(hand.taken[0]).toMatchObject({ step: 1, lore: { sends: { value: { number: 21 } } } });
  hand.lesson.goTo(0);
  hand.play(sweep(22));
  hand.lesson.goTo(1);
  hand.lesson.redo();
  hand.play(sweep(23));
  expect(hand.taken.at(-1)).toMatchObject({ step: 1, lore: { sends: { value: { number: 23 } } } });
});

test('a fader’s touch sense is taken along with its movement, and its ten bits are seen', () => {
  const lines: Line[] = [[0, [0x90, 0x68, 127]]];
  for (let i = 0; i <= 60; i++) {
    const bend = Math.round((i / 60) * 1023) << 4;
    lines.push([30 + i * 12, [0xe0, bend & 127, bend >> 7]]);
  }
  lines.push([900, [0x90, 0x68, 0]]);
  const hand = new Hand(new Lesson([step('fader')])).play(lines);
  expect(hand.taken[0].lore.sends).toEqual({
    value: { type: 'pitchBend', channel: 1, bits: 10 },
    touch: { type: 'note', channel: 1, number: 0x68 },
  });
});

test('what is taught otherwise than the device sheet asks is marked on it until both agree', () => {
  const box = BURROW_14;
  const lore = (number: number): Lore => {
    const hand = new Hand(new Lesson([{ control: box.controls[0], part: 'value' }])).play(
      sweep(number),
    );
    return hand.taken[0].lore;
  };
  const marked = (surface: Surface) => deviceSheet(surface).filter(({ taught }) => taught);
  const other = applyLore(box, 'knob-1', 0, lore(33)).document;
  expect(marked(other)).toEqual([
    expect.objectContaining({
      control: 'knob-1',
      says: 'Knob 1 (knob): controller 14, channel 1',
      taught: 'controller 33, channel 1',
    }),
  ]);
  expect(marked(applyLore(other, 'knob-1', 0, lore(34)).document)[0].says).toMatch('controller 14');
  expect(applyLore(other, 'knob-1', 0, lore(14)).document).toEqual(box);
  expect(applyLore(box, 'knob-1', 0, lore(14)).edit).toBeNull();
});

/** A hand that waits for nobody: each movement comes so many ms after the one before. */
class QuickHand {
  t = 0;
  readonly taken: { step: number; lore: Lore }[] = [];
  constructor(
    readonly lesson: Lesson,
    readonly pause: number,
  ) {}
  play(lines: readonly Line[], pause = this.pause): this {
    const start = this.t + pause;
    const first = lines[0]?.[0] ?? 0;
    for (const [at, bytes] of lines) {
      for (; this.t < start + at - first; this.t += 25) this.tick();
      this.t = Math.max(this.t, start + at - first);
      this.lesson.feed(this.t, Uint8Array.from(bytes));
    }
    return this;
  }
  rest(): this {
    for (const end = this.t + 1_500; this.t < end; this.t += 25) this.tick();
    return this;
  }
  private tick(): void {
    const taken = this.lesson.tick(this.t);
    if (taken) this.taken.push(taken);
  }
  /** Number of the message that each step has now. */
  numbers(): (number | undefined)[] {
    const now: (number | undefined)[] = [];
    for (const { step, lore } of this.taken) {
      const [pattern] = Object.values(lore.sends);
      now[step] = pattern && 'number' in pattern ? pattern.number : undefined;
    }
    return now;
  }
}

test.each([100, 400, 1_000])(
  'a plain knob box is taught with pauses of %i ms between its controls: every one its own message',
  (pause) => {
    const knobs = Array.from({ length: 18 }, (_, i) =>
      step(i < 14 ? 'knob' : 'fader', `K${i}` as 'knob'),
    );
    const hand = new QuickHand(new Lesson(knobs), pause);
    knobs.forEach((_, i) => hand.play(sweep(20 + i)));
    hand.rest();
    expect(hand.numbers()).toEqual(knobs.map((_, i) => 20 + i));
    expect(hand.lesson.view.phase).toBe('over');
  },
);

test('what is brushed on the way is let go, and is taught when its turn comes', () => {
  const hand = new QuickHand(
    new Lesson([
      step('knob', 'a' as 'knob'),
      step('knob', 'b' as 'knob'),
      step('knob', 'c' as 'knob'),
    ]),
    100,
  );
  const brush = (number: number): Line[] => [
    [0, [0xb0, number, 60]],
    [15, [0xb0, number, 62]],
  ];
  hand
    .play(brush(21))
    .play(sweep(20))
    .play(brush(22))
    .play(sweep(21))
    .play(brush(20))
    .play(sweep(22))
    .rest();
  expect(hand.numbers()).toEqual([20, 21, 22]);
});

test('a control that is done twice stays itself, and the next one is not deaf', () => {
  const hand = new QuickHand(
    new Lesson([step('knob', 'a' as 'knob'), step('knob', 'b' as 'knob')]),
    120,
  );
  hand.play(sweep(20)).play(sweep(20)).play(sweep(21)).rest();
  expect(hand.numbers()).toEqual([20, 21]);
});

test('what was said to be somebody else’s is dropped when the right one moves', () => {
  const hand = new QuickHand(
    new Lesson([step('knob', 'Knob 1' as 'knob'), step('knob', 'Knob 2' as 'knob')]),
    100,
  );
  hand.play(sweep(20)).rest().play(sweep(20)).rest();
  expect(hand.lesson.view.says).toMatch('That is what Knob 1 sends');
  hand.play(sweep(21));
  expect(hand.lesson.view.offer).toBeNull();
  hand.rest();
  expect(hand.numbers()).toEqual([20, 21]);
});

test('a button is never turned into a fader silently, nor a fader into a button', () => {
  for (const [drawn, lines] of [
    ['button', sweep(30)],
    ['fader', press(40)],
  ] as const) {
    const hand = new QuickHand(new Lesson([step(drawn)]), 100).play(lines).rest();
    expect(hand.taken).toEqual([]);
    expect(hand.lesson.view.says).toMatch(`is drawn as a ${drawn}`);
    expect(hand.lesson.takeOffer()).not.toBeNull();
  }
});

test('what nobody has drawn is what its movement says, and is asked for as it is described meanwhile', () => {
  const places = unknownSurface('box', 'Box');
  const hand = new QuickHand(new Lesson(stepsOf(places)), 100);
  hand.play(press(40)).play(sweep(20)).rest();
  expect(hand.numbers()).toEqual([40, 20]);
  const taught = hand.taken.reduce(
    (surface, { step, lore }) => applyLore(surface, surface.controls[step].id, 0, lore).document,
    places,
  );
  expect(taught.controls.slice(0, 3).map(({ kind }) => kind)).toEqual(['button', 'knob', 'knob']);
  const { lesson } = hand;
  const { document } = newRow(taught, 'control-3', 'fader');
  lesson.describe(stepsNow(stepsOf(places), document));
  expect(lesson.view.says).toBe(askFor({ control: document.controls[2], part: 'value' }));
  hand.play(sweep(21)).rest();
  expect(hand.taken.at(-1)).toMatchObject({ step: 2, lore: { kind: 'fader' } });
  // A row of keys is asked for, and taken, as what is pressed.
  lesson.describe(stepsNow(stepsOf(places), newRow(document, 'control-4', 'pad').document));
  expect(lesson.view.says).toMatch('Strike');
  hand.play(press(41)).rest();
  const note = { type: 'note', channel: 1, number: 41 };
  expect(hand.taken.at(-1)).toMatchObject({
    step: 3,
    lore: { kind: 'pad', sends: { push: note } },
  });
});

test('Redo forgets everything of a control: of the one before, where nothing has been done yet', () => {
  const hand = new QuickHand(
    new Lesson([step('knob', 'a' as 'knob'), step('knob', 'b' as 'knob')]),
    100,
  );
  hand.play(sweep(20)).rest();
  hand.lesson.redo();
  expect(hand.lesson.view).toMatchObject({ at: 0, phase: 'waiting', last: null });
  // The other knob may have that message now, and this one another.
  hand.play(sweep(21)).rest().play(sweep(20)).rest();
  expect(hand.numbers()).toEqual([21, 20]);
});

test('a hand that presses each button once and goes on leaves each its own note, known to be doubtful', () => {
  const once = (note: number): Line[] => [
    [0, [0x90, note, 127]],
    [90, [0x90, note, 0]],
  ];
  const buttons = Array.from({ length: 8 }, (_, i) => step('button', `B${i}` as 'button'));
  const hand = new QuickHand(new Lesson(buttons), 150);
  buttons.forEach((_, i) => hand.play(once(40 + i)));
  hand.rest();
  const numbers = hand.numbers();
  numbers.forEach((number, i) => expect(number).toBe(40 + i));
  expect(numbers.length).toBeGreaterThanOrEqual(7);
});

test('over careless passes of controls of all sorts what is sure is right, and nothing that is done leads to nothing', () => {
  let [sure, right, deaf] = [0, 0, 0];
  for (let seed = 1; seed <= 150; seed++) {
    const pass = carelessPass(new Dice(seed * 7_919));
    sure += pass.sure;
    right += pass.right;
    deaf += pass.deaf;
  }
  expect(sure).toBeGreaterThan(850);
  expect(right / sure).toBeGreaterThanOrEqual(0.995);
  expect(deaf).toBe(0);
});
