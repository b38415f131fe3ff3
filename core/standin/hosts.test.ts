import {
  CRATES,
  HOST_MODELS,
  RECORDS,
  SELECTED,
  STEMS,
  STUDIO,
  deflection,
  faderTaper,
  killGain,
  panGains,
  semitoneRatio,
  tempoLaw,
} from '@rondo/core/host';
import { balanceGains, crossGains, crossfade } from './booth-mix';
import { Booth, Studio, type SimulatedHost } from './index';

const TICK = 50_000;

class Room<T extends SimulatedHost> {
  t = 0;
  constructor(readonly host: T) {}
  at(address: string): number {
    const slot = this.host.slotOf(address);
    if (slot < 0) throw new Error(`no ${address}`);
    return slot;
  }
  set(address: string, value: number): this {
    this.host.set(this.at(address), value);
    return this;
  }
  value(address: string): number {
    return this.host.values[this.at(address)];
  }
  text(address: string): string {
    return this.host.textOf(this.at(address));
  }
  private earlier: { values: Float64Array; texts: string[]; more: unknown } | null = null;
  /** Keeps what is seen now, to be asked for later. */
  remember(): this {
    this.earlier = {
      values: this.host.values.slice(),
      texts: [...this.host.texts],
      more: structuredClone(beside(this.host)),
    };
    return this;
  }
  soon(without: string): string {
    const { values, texts, more } = this.earlier!;
    return seen(this.host, without, values, texts, more);
  }
  watched(without: string): string {
    return seen(this.host, without);
  }
  run(micros: number): this {
    const end = this.t + micros;
    while (this.t < end) {
      const step = Math.min(TICK, end - this.t);
      this.t += step;
      this.host.advance(step, this.t);
    }
    return this;
  }
}
const studio = () => new Room(new Studio(() => undefined));

/** Brings a host to where every one of its functions has something to work on. */
const PRELUDES: Readonly<Record<string, (room: Room<SimulatedHost>) => void>> = {
  studio(room) {
    STUDIO.strips.forEach((_, strip) => {
      const n = strip + 1;
      for (const band of [1, 3, 6, 9]) room.set(`insert1Parameter${band}/${n}`, 0.7);
      room.set(`insert1Parameter11/${n}`, 0.1);
      room.set(`insert2Parameter1/${n}`, 0.4).set(`insert2Parameter6/${n}`, 0.8);
      room.set(`insert3Parameter4/${n}`, 0.6).set(`insert3Parameter1/${n}`, 0.7);
      if (strip >= 16) return;
      for (const send of [1, 2, 3]) room.set(`send${send}/${n}`, 0.5);
      room.set(`arm/${n}`, 1);
    });
    room.set('punch', 1).set('punchIn', 0).set('punchOut', 0.9).set('click', 1);
    // A loop of one bar, 2.5 s.
    room
      .set('loopStart', 0)
      .set('loopEnd', 1 / 128)
      .set('loop', 1);
    for (let marker = 0; marker < 3; marker++) {
      for (let bar = 0; bar < 5 + marker; bar++) room.set('forward', 1);
      room.set('markerAdd', 1);
    }
    room.set('toStart', 1).set('play', 1).set('record', 1).set('scene1', 1).run(2_700_000);
    room.set('volume/1', 0.3).run(1_100_000).set('volume/1', 0.6).set('undo', 1).set('clipCopy', 1);
  },
  booth(room) {
    for (let deck = 1; deck <= 4; deck++) {
      room.set(`headphone/${deck}`, 1).set(`place/${deck}`, 0.1);
      room
        .set(`hotCue1/${deck}`, 1)
        .set(`loopLength/${deck}`, 8 / 11)
        .set(`keyLock/${deck}`, 0);
      room.set(`play/${deck}`, 1);
    }
    room.set('pitch/2', 0.6).set('pitch/3', 0.4).set('crossfader', 0.3);
    for (const unit of [1, 2]) room.set(`effect${unit}On`, 1).set(`effect${unit}Amount`, 0.6);
    room.set('sampler1', 1).run(1_230_000);
  },
};
/** What has to be done for an effect to be seen. */
const BEFORE: Readonly<Record<string, (room: Room<SimulatedHost>) => void>> = {
  marker8: (room) => room.set('forward', 1).set('forward', 1).set('markerAdd', 1).set('toStart', 1),
  markerAdd: (room) => room.set('marker2', 1).set('forward', 1),
  markerPrevious: (room) => room.set('marker3', 1),
  trackPrevious: (room) => room.set('select/3', 1),
  marker1: (room) => room.set('loop', 0).set('marker3', 1),
  clipInsert: (room) => room.set('clipDelete', 1),
  tapTempo: (room) => room.set('tapTempo', 1).run(400_000),
  clipPaste: (room) => room.set('cellScene', 1),
  // Another cell than the one that is copied already.
  clipCopy: (room) => room.set('cellScene', 1 / 7),
  cellTrack: (room) => room.set('clipDelete', 1),
  scene1: (room) => room.set('clipStopAll', 1),
  // Outside punch in and out nothing is recorded.
  punch: (room) => room.set('punchOut', 0),
  save: (room) => room.set('record', 0),
  // From inside the loop to its end.
  loopStart: (room) => room.set('loopEnd', 2 / 128).set('toStart', 1),
  loopEnd: (room) => room.set('toStart', 1),
  // One track alone, so that levels rise and fall, and the buses pressed harder than it.
  insert2Parameter4: (room) =>
    STUDIO.strips.forEach((_, i) => {
      const n = i + 1;
      room.set(`mute/${n}`, i > 0 && i < 16 ? 1 : 0).set(`volume/${n}`, 0.6);
      room.set(`insert2Parameter1/${n}`, i < 16 ? 0.5 : 0.1);
      room.set(`insert2Parameter2/${n}`, i < 16 ? 0.3 : 0.9);
    }),
};
const BOOTH_BEFORE: typeof BEFORE = {
  // A cue that is set is jumped to.
  hotCueClear: (room) => room.set('hotCue3/1', 1),
  loopOut: (room) => room.set('loopIn/1', 1).run(1_300_000),
  stop: (room) => room.set('place/1', 0.25).run(130_000),
  loopHalve: (room) => room.set('loop/1', 1),
  loopDouble: (room) => room.set('loop/1', 1),
  loopLength: (room) => room.set('loop/1', 1),
  quantise: (room) => room.run(130_000),
  sampler1: (room) => room.set('sampler1', 0),
  samplerLevel: (room) => room.set('sampler2', 1),
  stemPair: (room) => room.set('stemCross2', 0.9).set('stemCross4', 0.1),
  // The record that comes in five is on deck 3.
  stemCross5: (room) => room.set('stemPair', 1).set('stemCross5', 0.2),
  listUp: (room) => room.set('listDown', 1),
  crateOpen: (room) => room.set('crateOpen', 0).set('crate', 1),
  // The cue point lies where the record stands.
  cue: (room) => room.run(100_000),
};
const AFTER: Readonly<Record<string, (room: Room<SimulatedHost>) => void>> = {
  clipCopy: (room) => room.set('cellTrack', 1).set('clipPaste', 1),
  loopIn: (room) => room.run(1_300_000).set('loopOut/1', 1),
  jumpLength: (room) => room.set('jumpOn/1', 1),
  quantise: (room) => room.set('hotCue1/1', 1),
  hotCueClear: (room) => room.set('hotCueLast/1', 1),
  chosen: (room) => room.set('load/1', 1),
  browse: (room) => room.set('load/1', 1),
  leader: (room) => room.set('sync/3', 1),
  // What is recorded from here on is what counts.
  punchOut: (room) => room.set('toStart', 1),
};

/** Seen once shortly after, and once when everything has had its time, µs. */
const SOON = 300_000;
const SEEN = 5_700_000;

/** What can be seen of a host beside its values and texts. */
function beside(host: SimulatedHost): unknown {
  if (host instanceof Studio)
    return [
      host.transport.position,
      host.transport.clicks,
      [...host.transport.recorded],
      host.markers,
      host.clips,
      STUDIO.strips.map((_, strip) => host.written(strip)),
    ];
  return host instanceof Booth
    ? [host.decks.map(({ beat, hotCues }) => [beat, hotCues]), host.recorded]
    : [];
}

/** Everything that can be seen of a host but one function's own values. */
function seen(
  host: SimulatedHost,
  without: string,
  values = host.values,
  texts = host.texts,
  more = beside(host),
): string {
  const others = host.slots.flatMap(({ fn }, i) => (fn.id === without ? [] : [values[i]]));
  return JSON.stringify([others, texts, more]);
}

const HOSTS: [string, (emit: () => void) => SimulatedHost][] = [
  ['studio', (emit) => new Studio(emit)],
  ['booth', (emit) => new Booth(emit)],
];

describe.each(HOSTS)('%s', (id, simulate) => {
  const model = HOST_MODELS.get(id)!;
  const befores = id === 'booth' ? { ...BEFORE, ...BOOTH_BEFORE } : BEFORE;
  const prepared = (fnId: string) => {
    const room = new Room(simulate(() => undefined));
    PRELUDES[id](room);
    befores[fnId]?.(room);
    return room;
  };
  let left: Room<SimulatedHost> | null = null;
  /** The host when nothing is set. */
  const untouched = () => (left ??= prepared('').run(SOON).remember().run(SEEN));
  const functions = model.functions.filter((fn) => fn.messages.some((m) => m?.set));
  const other = (value: number) => (value > 0.5 ? 0.1 : 0.9);

  test.each(functions.filter((fn) => !fn.view).map((fn) => [fn.id, fn] as const))(
    '%s moves something beside itself',
    (fnId, fn) => {
      const usual = !befores[fnId] && !AFTER[fnId];
      const still = usual ? untouched() : prepared(fnId);
      AFTER[fnId]?.(still);
      const watch = (room: Room<SimulatedHost>) =>
        room.run(SOON).watched(fnId) + room.run(SEEN).watched(fnId);
      const reference = usual ? still.soon(fnId) + still.watched(fnId) : watch(still);
      const instances = still.host.slots.flatMap((slot, i) =>
        slot.fn === fn || slot.fn.id === fn.id ? [i] : [],
      );
      // One instance of each kind of strip stands for its like.
      const groups = new Set<string>();
      for (const slot of instances) {
        const { strip, exists, set } = still.host.slots[slot];
        const group = strip < 0 ? 'own' : model.strips[strip].group;
        if (!exists || !set || strip === SELECTED || groups.has(group)) continue;
        const room = prepared(fnId);
        const before = room.host.values[slot];
        const value =
          fn.kind === 'nudge'
            ? 20
            : fn.kind === 'trigger' || fn.id.startsWith('hotCue')
              ? 1
              : fn.kind === 'toggle'
                ? 1 - before
                : fn.id === 'automation'
                  ? 0.5
                  : fn.id === 'loopStart'
                    ? 1 / 128
                    : fn.id === 'punchOut'
                      ? 0
                      : other(before);
        room.host.set(slot, value);
        AFTER[fnId]?.(room);
        if (watch(room) !== reference) groups.add(group);
        else if (fn.messages.length < 3) throw new Error(`${fnId} does nothing`);
      }
      const there = new Set(
        instances
          .map((slot) => still.host.slots[slot])
          .filter(({ strip, exists }) => exists && strip >= 0)
          .map(({ strip }) => model.strips[strip].group),
      );
      expect([...groups].filter((group) => group !== 'own').sort()).toEqual([...there].sort());
    },
  );

  test('a walk over every function: set, read back, shown', () => {
    const room = new Room(simulate(() => undefined));
    const faults: string[] = [];
    room.host.slots.forEach(({ fn, set, report, exists, address, strip }, slot) => {
      if (!exists || strip === SELECTED) return;
      if (fn.kind === 'continuous' && set && report && !fn.needs) {
        room.host.set(slot, 0.25);
        const value = room.host.values[slot];
        if (Math.abs(value - 0.25) > 1e-3) faults.push(`${address} reads ${value}`);
      }
      const text = room.host.textOf(slot);
      if (fn.kind !== 'text' && (text === '' || /undefined|NaN/.test(text)))
        faults.push(`${address} shows “${text}”`);
    });
    expect(faults).toEqual([]);
  });

  test('what the selected instance does, the selected strip does, and the other way round', () => {
    const room = new Room(simulate(() => undefined));
    const faults: string[] = [];
    room.host.slots.forEach(({ fn, strip, set, exists }, slot) => {
      if (strip !== SELECTED || fn.kind !== 'continuous' || !set || !exists) return;
      room.host.set(slot, 0.75);
      if (Math.abs(room.value(`${fn.id}/1`) - 0.75) > 1e-3) faults.push(`${fn.id} forth`);
      room.set(`${fn.id}/1`, 0.125);
      if (Math.abs(room.host.values[slot] - 0.125) > 1e-3) faults.push(`${fn.id} back`);
    });
    expect(faults).toEqual([]);
  });
});

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
  const booth = () => new Room(new Booth(() => undefined));

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
