import { HOST_MODELS, SELECTED, STUDIO } from '@rondo/core/host';
import { Booth, Studio, type SimulatedHost } from './index';
import { HostRoom } from '../testing/host-room.js';

/** Brings a host to where every one of its functions has something to work on. */
const PRELUDES: Readonly<Record<string, (room: HostRoom<SimulatedHost>) => void>> = {
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
const BEFORE: Readonly<Record<string, (room: HostRoom<SimulatedHost>) => void>> = {
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
const AFTER: Readonly<Record<string, (room: HostRoom<SimulatedHost>) => void>> = {
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

const HOSTS: [string, (emit: () => void) => SimulatedHost][] = [
  ['studio', (emit) => new Studio(emit)],
  ['booth', (emit) => new Booth(emit)],
];

describe.each(HOSTS)('%s', (id, simulate) => {
  const model = HOST_MODELS.get(id)!;
  const befores = id === 'booth' ? { ...BEFORE, ...BOOTH_BEFORE } : BEFORE;
  const prepared = (fnId: string) => {
    const room = new HostRoom(simulate(() => undefined));
    PRELUDES[id](room);
    befores[fnId]?.(room);
    return room;
  };
  let left: HostRoom<SimulatedHost> | null = null;
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
      const watch = (room: HostRoom<SimulatedHost>) =>
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
    const room = new HostRoom(simulate(() => undefined));
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
    const room = new HostRoom(simulate(() => undefined));
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
