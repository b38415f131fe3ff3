import { Capture, THIN, infer } from '@rondo/core/teach';
import { Dice, MAKERS, isRight, spoil, type Line, type Made } from '../core/testing/captures.js';
import { carelessPass } from '../core/testing/careless.js';
import { table, timed } from './report.js';

/** Captures by careless hands, in passes of six. */
const CARELESS = 10_000;
const A_PASS = 6;

const ROUNDS = 200;
const MESSAGES = 100_000;

function find(lines: readonly Line[]) {
  const capture = new Capture();
  for (const [t, bytes] of lines) capture.feed(t, Uint8Array.from(bytes));
  return infer(capture);
}

/** What each kind of control was taken for, clean and spoilt, and how long inference takes. */
export function teaching(): void {
  for (const clean of [true, false]) {
    let confident = 0;
    let right = 0;
    const rows = MAKERS.map((make): [string, string] => {
      const taken = new Map<string, number>();
      let name = '';
      for (let seed = 1; seed <= ROUNDS; seed++) {
        const dice = new Dice(seed * 7_919);
        const made: Made = make(dice);
        name = made.name;
        const found = find(clean ? made.lines : spoil(made.lines, dice)).find(
          ({ sends }) => sends.type === made.truth.type && sends.number === made.truth.number,
        );
        const sure = found !== undefined && found.confidence >= THIN;
        if (sure) confident++;
        if (sure && isRight(found, made)) right++;
        const label = !found
          ? 'not found'
          : !sure
            ? 'unsure'
            : isRight(found, made)
              ? 'right'
              : `${found.kind}, ${found.sends.encoding ?? ''} ${found.behaviour}`;
        taken.set(label, (taken.get(label) ?? 0) + 1);
      }
      return [name, [...taken].map(([label, n]) => `${label} ${n}`).join('; ')];
    });
    const all = MAKERS.length * ROUNDS;
    table(
      `Teaching: what ${ROUNDS} ${clean ? 'clean' : 'spoilt'} captures of each were taken for`,
      [
        ...rows,
        ['confident', `${((confident / all) * 100).toFixed(1)} %`],
        ['right where confident', `${((right / confident) * 100).toFixed(2)} %`],
      ],
    );
    const enough = clean
      ? confident / all >= 0.95 && right === confident
      : right / confident >= 0.98;
    if (!enough) process.exitCode = 1;
  }
  careless();
  const dice = new Dice(5);
  const lines: Line[] = [];
  for (let t = 0; lines.length < MESSAGES; t = lines[lines.length - 1][0])
    for (const [at, bytes] of dice.pick(MAKERS)(dice).lines) lines.push([t + at, bytes]);
  const messages = lines
    .slice(0, MESSAGES)
    .map(([t, bytes]) => ({ t, bytes: Uint8Array.from(bytes) }));
  const seconds = Math.min(
    ...Array.from({ length: 5 }, () =>
      timed(() => {
        const capture = new Capture();
        for (const { t, bytes } of messages) capture.feed(t, bytes);
        infer(capture);
      }),
    ),
  );
  table('Inference', [
    [`${MESSAGES} captured messages`, `${(seconds * 1_000).toFixed(0)} ms`],
    ['ratio to 200 ms (at most 1)', (seconds / 0.2).toFixed(2)],
  ]);
  if (seconds > 0.2) process.exitCode = 1;
}

/** Hands that do not wait, brush what stands beside and do things twice. */
function careless(): void {
  let [sure, right, deaf, touches, controls] = [0, 0, 0, 0, 0];
  for (let seed = 1; controls < CARELESS; seed++) {
    const pass = carelessPass(new Dice(seed * 7_919), A_PASS);
    sure += pass.sure;
    right += pass.right;
    deaf += pass.deaf;
    touches += pass.touches;
    controls += pass.controls;
  }
  table(`Teaching by careless hands: ${controls} controls, ${touches} touches`, [
    ['taken as sure', `${((sure / controls) * 100).toFixed(1)} %`],
    ['right where sure (at least 99.5 %)', `${((right / sure) * 100).toFixed(2)} %`],
    ['done, and led to nothing (at most 0)', String(deaf)],
  ]);
  if (right / sure < 0.995 || deaf > 0) process.exitCode = 1;
}
