import { HOST_MODELS } from '@rondo/core/host';
import { emptyProfile } from '@rondo/core/profile';
import { Booth, Studio, type SimulatedHost } from '@rondo/core/standin';
import { HARROW_8 } from '@rondo/core/surface';
import { NOTHING_OWN, libraryWith } from '../web/src/app/engine/library';
import { Names } from '../web/src/app/features/bind/names';
import { search } from '../web/src/app/features/bind/round/choice-search';
import { choicesFor } from '../web/src/app/features/bind/round/choices';
import { table } from './report.js';

const STEP = 10_000;
const STEPS = 3_000;
/** Worker time that a host may take for 10 ms of its own, ms. */
const MOST = 2;
const KEYSTROKE = 16;

/** Mean and slowest of steps of 10 ms, ms. */
function play(host: SimulatedHost): { mean: number; slow: number } {
  const times: number[] = [];
  for (let n = 1; n <= STEPS; n++) {
    const from = performance.now();
    host.advance(STEP, n * STEP);
    times.push(performance.now() - from);
  }
  times.sort((a, b) => a - b);
  return {
    mean: times.reduce((sum, time) => sum + time, 0) / STEPS,
    slow: times[Math.floor(STEPS * 0.99)],
  };
}

/** Both hosts at full play, and the finder over all their functions. */
export function hosts(): void {
  const studio = new Studio(() => undefined);
  const set = (host: SimulatedHost, address: string, value: number) =>
    host.set(host.slotOf(address), value);
  set(studio, 'play', 1);
  set(studio, 'loop', 1);
  set(studio, 'scene1', 1);
  for (let strip = 1; strip <= 20; strip++) set(studio, `automation/${strip}`, 0.5);
  const booth = new Booth(() => undefined);
  for (let deck = 1; deck <= 4; deck++) {
    set(booth, `loop/${deck}`, 1);
    set(booth, `play/${deck}`, 1);
  }
  for (const unit of [1, 2]) set(booth, `effect${unit}On`, 1);
  const rows = [
    ['Studio, 20 tracks', play(studio)],
    ['Booth, four decks', play(booth)],
  ] as const;
  table(
    'Hosts at full play: worker time for 10 ms of host time',
    rows.map(([name, { mean, slow }]) => [
      name,
      `mean ${mean.toFixed(3)} ms, 99 % ${slow.toFixed(3)} ms, ratio of that to ${MOST} ms ${(slow / MOST).toFixed(2)}`,
    ]),
  );
  if (rows.some(([, { slow }]) => slow > MOST)) process.exitCode = 1;

  const profile = {
    ...emptyProfile('bench', 'Bench'),
    hosts: Object.fromEntries(
      [...HOST_MODELS.values()].map(({ id, name }) => [id, { id, model: id, label: name }]),
    ),
    hostOrder: [...HOST_MODELS.keys()],
  };
  const control = HARROW_8.controls.find(({ id }) => id === 'fader-1') ?? HARROW_8.controls[0];
  const names = new Names(profile, libraryWith(NOTHING_OWN));
  const choices = choicesFor(names, HARROW_8, control, 'value', (ref) => ref.control);
  const many = [...choices];
  while (many.length < 3_000) many.push(...choices.slice(0, 3_000 - many.length));
  const typed = ['v', 'vo', 'vol', 'volume', 'volume c', 'eq low', 'low-mid gain cello', 'pitch 2'];
  const times = typed.flatMap((text) =>
    Array.from({ length: 20 }, () => {
      const from = performance.now();
      search(many, text);
      return performance.now() - from;
    }),
  );
  times.sort((a, b) => a - b);
  const slow = times[Math.floor(times.length * 0.95)];
  table('Finder', [
    ['choices', `${choices.length} of both hosts; searched among ${many.length}`],
    [
      'a keystroke',
      `95 % ${slow.toFixed(2)} ms, ratio of that to ${KEYSTROKE} ms ${(slow / KEYSTROKE).toFixed(2)}`,
    ],
  ]);
  if (slow > KEYSTROKE) process.exitCode = 1;
}
