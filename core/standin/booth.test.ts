import { CRATES, RECORDS, STEMS, killGain, semitoneRatio } from '@rondo/core/host';
import { balanceGains, crossGains, crossfade } from './booth-mix';
import { Booth } from './index';
import { HostRoom } from '../testing/host-room.js';

// Equal temperament (ISO 16 and handbooks): twelve semitones double, seven are 1.4983.
test.each([
  [12, 2],
  [-12, 0.5],
  [7, 1.4983],
  [1, 1.0595],
])('%i semitones are a ratio of %f', (semitones, ratio) => {
  expect(semitoneRatio(semitones)).toBeCloseTo(ratio, 4);
});

test('a mixer’s equaliser is silent at the left end, unchanged in the middle, twice at the right', () => {
  expect([0, 0.25, 0.5, 1].map(killGain)).toEqual([0, 0.5, 1, 2]);
});

describe('the Booth', () => {
  const booth = () => new HostRoom(new Booth(() => undefined));

  test('a deck’s clock is exact over an hour; a loop decides where it plays', () => {
    const room = booth().set('loopLength/1', 1).set('loop/1', 1).set('play/1', 1);
    let turns = 0;
    for (let minute = 0; minute < 60; minute++) {
      room.t += 60_000_000;
      room.host.advance(60_000_000, room.t);
      turns++;
    }
    // 112 beats a minute for an hour, in a loop of 64 beats.
    expect(room.host.decks[0].tempo).toBeCloseTo(112, 2);
    expect(room.host.decks[0].beat).toBeCloseTo((room.host.decks[0].tempo * turns) % 64, 3);
  });

  // Equal temperament: a speed of 2^(n/12) shifts the key by n semitones.
  test('key follows speed unless it is locked, and the shift', () => {
    const room = booth().set('pitchRange/1', 1);
    room.set('pitch/1', 0.5 + (semitoneRatio(7) - 1) / 2);
    expect(room.host.decks[0].shift).toBeCloseTo(7, 2);
    expect(room.set('keyLock/1', 1).host.decks[0].shift).toBe(0);
    expect(room.set('keyShift/1', 17 / 24).host.decks[0].shift).toBe(5);
    expect(room.text('keyShift/1')).toBe('+5 semitones');
  });

  test('a bend makes a deck faster while it lasts, and leaves its pitch alone', () => {
    const room = booth().set('place/1', 0.25).set('play/1', 1).run(100_000);
    const tempo = room.host.decks[0].tempo;
    const pitch = room.value('pitch/1');
    expect(room.set('bend/1', 1).host.decks[0].tempo).toBeCloseTo(tempo * 1.08, 2);
    expect(room.set('bend/1', 0).host.decks[0].tempo).toBeCloseTo(tempo * 0.92, 2);
    // A wheel springs back.
    expect(room.set('bend/1', 0.5).host.decks[0].tempo).toBeCloseTo(tempo, 6);
    expect(room.value('pitch/1')).toBe(pitch);
  });

  test('stop halts a deck and goes back to its cue point, playing or not', () => {
    const room = booth().set('place/1', 0.25).run(100_000).set('cue/1', 1).set('cue/1', 0);
    const point = room.host.decks[0].cuePoint;
    room.set('play/1', 1).run(2_000_000).set('stop/1', 1);
    expect([room.value('play/1'), room.host.decks[0].beat]).toEqual([0, point]);
    room.set('place/1', 0.5).set('stop/1', 1);
    expect(room.host.decks[0].beat).toBe(point);
  });

  test('sync takes the leader’s tempo and beat', () => {
    const room = booth().set('pitchRange/2', 0.5).set('play/1', 1).run(1_234_000);
    room.set('play/2', 1).set('sync/2', 1);
    expect(room.host.decks[1].tempo).toBeCloseTo(room.host.decks[0].tempo, 1);
    expect(room.host.decks[1].beat % 1).toBeCloseTo(room.host.decks[0].beat % 1, 3);
  });

  test('a cue is held to listen; a hot cue keeps its place in the beat', () => {
    const room = booth().set('place/1', 0.25).run(100_000).set('cue/1', 1).run(1_000_000);
    expect(room.host.decks[0].beat).toBeGreaterThan(129);
    expect(room.set('cue/1', 0).host.decks[0].beat).toBeCloseTo(128, 1);
    room.set('quantise/1', 1).set('hotCue1/1', 1).set('play/1', 1).run(3_210_000);
    const within = room.host.decks[0].beat % 1;
    room.set('hotCue1/1', 1);
    expect(room.host.decks[0].beat).toBeCloseTo(128 + within, 2);
  });

  test('stems, balance and crossfades are the stated laws', () => {
    expect([-1, 0, 1].map(balanceGains)).toEqual([
      [0, 1],
      [1, 1],
      [1, 0],
    ]);
    expect([0, 0.5, 1].map(crossGains)).toEqual([
      [1, 0],
      [1, 1],
      [0, 1],
    ]);
    // Handbook: constant power is 3.01 dB down in the middle.
    expect(crossfade(0.5, 0).map((gain) => 20 * Math.log10(gain))).toEqual([
      expect.closeTo(-3.01, 2),
      expect.closeTo(-3.01, 2),
    ]);
    expect(crossfade(0.5, 1)).toEqual([0.5, 0.5]);
    expect(crossfade(0.5, 2)).toEqual([1, 1]);
  });

  test('each record says its stems, and what it lacks is not there', () => {
    const room = booth();
    RECORDS.forEach(({ stems }, at) => {
      room.set('chosen', at / (RECORDS.length - 1)).set('load/1', 1);
      const has = Array.from({ length: STEMS }, (_, n) => room.value(`stemHas${n + 1}/1`));
      expect(has.filter((on) => on === 1)).toHaveLength(stems);
      expect(has.slice(0, stems)).toEqual(Array(stems).fill(1));
      expect(room.text(`stemName${stems}/1`)).toBe('Rest');
      if (stems < STEMS) expect(room.text(`stemName${stems + 1}/1`)).toBe('');
    });
    expect(new Set(RECORDS.map(({ stems }) => stems))).toEqual(new Set([2, 3, 4, 5]));
    room.set('eject/1', 1);
    expect([1, 2, 3, 4, 5].map((n) => room.value(`stemHas${n}/1`))).toEqual([0, 0, 0, 0, 0]);
  });

  test('an effect is assigned to decks one by one, and to all or to one only in one go', () => {
    const room = booth();
    const assigned = () => [1, 2, 3, 4].map((n) => room.value(`effect1Assigned/${n}`));
    expect(assigned()).toEqual([1, 1, 1, 1]);
    room.set('effect1Deck', 2 / 4);
    expect(assigned()).toEqual([0, 1, 0, 0]);
    room.set('effect1Assigned/3', 1);
    expect(assigned()).toEqual([0, 1, 1, 0]);
    room.set('effect1Assigned/2', 0);
    expect(room.value('effect1Deck')).toBeCloseTo(3 / 4, 3);
    room.set('effect1Deck', 0);
    expect(assigned()).toEqual([1, 1, 1, 1]);
    // Taken out of the set-up the second unit is silent, and is not the one used last.
    room.set('effect2On', 1).set('effect2Fitted', 0);
    expect([room.value('effect2On'), room.value('effectLastOn')]).toEqual([0, 0]);
  });

  test('crates are gone through while closed, their records while open', () => {
    const room = booth();
    const chosen = () => Math.round(room.value('chosen') * (RECORDS.length - 1));
    room.set('listDown', 1);
    expect(chosen()).toBe(1);
    room.set('crateOpen', 0).set('listDown', 1).set('browse', 2);
    expect(room.value('crate')).toBeCloseTo(3 / (CRATES.length - 1), 3);
    expect(chosen()).toBe(1);
    room.set('crateOpen', 1);
    expect(chosen()).toBe(CRATES[3].records[0]);
    for (const _ of CRATES[3].records) room.set('listDown', 1);
    expect(chosen()).toBe(CRATES[3].records.at(-1));
    room.set('load/2', 1);
    expect(room.text('name/2')).toBe(RECORDS[chosen()].title);
    room.set('listUp', 1);
    expect(chosen()).toBe(CRATES[3].records.at(-2));
    room.set('crateOpen', 0).set('listUp', 1).set('listUp', 1).set('listUp', 1).set('listUp', 1);
    expect(room.value('crate')).toBe(0);
  });
});
