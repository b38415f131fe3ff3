import { STUDIO, deflection, faderTaper, panGains, tempoLaw } from '@rondo/core/host';
import { studio } from '../testing/host-room.js';

describe('the Studio', () => {
  test('undo and redo walk the changes by hand; saving is told', () => {
    const room = studio();
    const volume = room.value('volume/3');
    room.set('volume/3', 0.2).set('mute/4', 1);
    expect([room.value('unsaved'), room.value('mute/4')]).toEqual([1, 1]);
    room.set('undo', 1).set('undo', 1);
    expect([room.value('mute/4'), room.value('volume/3')]).toEqual([0, volume]);
    room.set('redo', 1);
    expect(room.value('volume/3')).toBeCloseTo(0.2, 3);
    expect(room.set('save', 1).value('unsaved')).toBe(0);
  });

  test('every kind of change by hand is undone, and done again', () => {
    const room = studio();
    const faults: string[] = [];
    for (const { id, kind } of STUDIO.functions) {
      if (!/^(volume|pan|mute|solo|arm|send\d|insert\d(On|Parameter\d+)|automation)$/.test(id))
        continue;
      const before = room.value(`${id}/2`);
      room
        .run(1_100_000)
        .set(`${id}/2`, kind === 'toggle' ? 1 - before : before > 0.5 ? 0.25 : 0.75);
      const after = room.value(`${id}/2`);
      room.set('undo', 1);
      if (after === before || room.value(`${id}/2`) !== before) faults.push(`${id} undo`);
      if (room.set('redo', 1).value(`${id}/2`) !== after) faults.push(`${id} redo`);
    }
    expect(faults).toEqual([]);
  });

  test('notes and rests are entered into the chosen clip', () => {
    const room = studio()
      .set('noteEnter', 60 / 127)
      .set('restEnter', 1);
    expect(room.host.clips[0][0]?.steps).toEqual([60, -1]);
    expect(room.text('cellName')).toMatch('2 steps');
    expect(room.text('noteEnter')).toBe('C4');
  });

  // Handbook: constant-power pan, left and right 3.01 dB down at the centre; IEC 60268-18 deflection.
  test('left and right meters follow pan, fader and mute by the stated laws', () => {
    const room = studio().set('play', 1).run(1_000_000);
    const side = (which: string) => room.value(`meter${which}/1`);
    const level = (share: number) =>
      Array.from({ length: 700 }, (_, i) => -70 + i / 10).find((x) => deflection(x) >= share) ?? 0;
    const measure = (pan: number) => {
      room.set('pan/1', pan).set('toStart', 1).run(50_000);
      return [level(side('Left')), level(side('Right'))];
    };
    const [centreLeft, centreRight] = measure(0.5);
    expect(centreLeft).toBeCloseTo(centreRight, 6);
    const [fullLeft, noRight] = measure(0);
    expect(noRight).toBeLessThanOrEqual(-69);
    // One step of a 7-bit meter is up to 0.4 dB here.
    expect(Math.abs(fullLeft - centreLeft - 3.01)).toBeLessThan(0.5);
    const [left] = panGains(0.5);
    expect(20 * Math.log10(left)).toBeCloseTo(-3.01, 2);
    room.set('pan/1', 0).set('volume/1', faderTaper.fromUnit(-12)).set('toStart', 1).run(50_000);
    const low = level(side('Left'));
    room.set('volume/1', faderTaper.fromUnit(-6)).set('toStart', 1).run(50_000);
    expect(Math.abs(level(side('Left')) - low - 6)).toBeLessThan(0.8);
    expect(room.set('mute/1', 1).run(50_000).value('meterLeft/1')).toBe(0);
  });

  test('touch writes while the hand is there, latch until stop, and read plays it back', () => {
    for (const state of [0.75, 1]) {
      const room = studio().set('automation/9', state).set('play', 1).run(200_000);
      room.set('volume/9', 0.9).run(600_000);
      room.set('stop', 1).set('automation/9', 0.25).set('volume/9', 0.1).run(2_000_000);
      expect(room.value('volume/9')).toBeCloseTo(0.1, 3);
      room.set('toStart', 1).set('play', 1).run(600_000);
      expect(room.value('volume/9')).toBeCloseTo(0.9, 2);
    }
  });

  test('a clip waits for the bar, plays, and stops; an armed track records into an empty cell', () => {
    const room = studio();
    const filled = room.host.clips[0].findIndex(Boolean) + 1;
    room.set(`clip${filled}/1`, 1);
    expect(room.text(`clip${filled}/1`)).toBe('Waiting');
    // 96 bpm: a bar is 2.5 s.
    room.run(2_600_000);
    expect(room.text(`clip${filled}/1`)).toBe('Playing');
    expect(room.set('clipStop/1', 1).text(`clip${filled}/1`)).toBe('Stopped');
    const empty = room.host.clips[1].indexOf(null) + 1;
    room.set('arm/2', 1).set(`clip${empty}/2`, 1);
    expect(room.text(`clip${empty}/2`)).toBe('Recording');
  });

  test('focus shows the inserts of the selected track in pages, and says which slots are empty', () => {
    const room = studio().set('select/8', 1).set('focus1', 0.75);
    expect(room.value('insert1Parameter1/8')).toBeCloseTo(0.75, 3);
    expect(room.text('focusText1')).toBe('Low gain +7.5 dB');
    room.set('focusPage', 1);
    expect([4, 5].map((n) => room.value(`focusHas${n}`))).toEqual([1, 0]);
    room.set('focusNext', 1);
    expect(room.text('focusName')).toBe('Compressor, Cello');
  });

  test('tempo by taps, and a clock that is exact over an hour', () => {
    const room = studio();
    for (let tap = 0; tap < 5; tap++) room.set('tapTempo', 1).run(500_000);
    expect(tempoLaw.toUnit(room.value('tempo'))).toBeCloseTo(120, 1);
    room.set('loop', 0).set('play', 1);
    const start = room.host.transport.position;
    for (let minute = 0; minute < 60; minute++) {
      room.t += 60_000_000;
      room.host.advance(60_000_000, room.t);
    }
    expect(room.host.transport.position - start).toBe(3_600_000_000);
    // 120 beats a minute, four a bar: 1 800 bars an hour.
    expect(room.host.transport.bar).toBeCloseTo(1_800, 6);
  });
});

test('next and previous track select the strip beside, and stay at the ends', () => {
  const room = studio();
  const selected = () =>
    STUDIO.strips.findIndex((_, strip) => room.value(`select/${strip + 1}`) === 1);
  const last = STUDIO.strips.length - 1;
  for (let strip = 1; strip <= last + 2; strip++) {
    room.set('trackNext', 1);
    expect(selected()).toBe(Math.min(strip, last));
  }
  for (let strip = last - 1; strip >= -2; strip--) {
    room.set('trackPrevious', 1);
    expect(selected()).toBe(Math.max(strip, 0));
  }
});
