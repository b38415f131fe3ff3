import fc from 'fast-check';
import { neapRink, type Profile } from '@rondo/core/profile';
import type { ReturnSettings } from '@rondo/core/surface';
import { number, LitRoom, studio, pads, showings, padRefs } from '../../testing/lit-room.js';

describe('shown elsewhere', () => {
  test('looping a deck lights three chosen buttons elsewhere', () => {
    const profile: Profile = {
      ...neapRink(),
      ...showings({
        layer: 'base',
        shows: { host: 'booth', function: 'loop', scope: { kind: 'fixed', strip: 1 } },
        on: padRefs(62, 63, 64),
        spread: 'same',
      }),
    };
    const room = new LitRoom(profile);
    const three = () => [62, 63, 64].map((n) => room.light('pads', `pad-${n}`));
    expect(three()).toEqual([0, 0, 0]);
    room.set('load/2', 1).set('play/2', 1).set('loop/2', 1);
    expect(room.host.values[room.host.slotOf('loop/2')]).toBe(1);
    expect(three().every((wire) => wire === number('#a3e635'))).toBe(true);
    expect((room.set('loop/2', 0), three())).toEqual([0, 0, 0]);
  });

  const meter = (returns: ReturnSettings = {}): Profile =>
    pads(
      {},
      showings({
        layer: 'base',
        shows: { host: 'studio', function: 'volume', scope: { kind: 'fixed', strip: 0 } },
        on: padRefs(57, 49, 41, 33, 25, 17),
        spread: 'row',
        returns,
      }),
    );
  const column = [57, 49, 41, 33, 25, 17];

  test('a level over six pads: as many are lit as the level is high, green below and red above', () => {
    const room = new LitRoom(meter({ by: 'bands' }));
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 127 }), (n) => {
        room.set('volume/1', n / 127);
        const lit = column.map((pad) => room.light('pads', `pad-${pad}`) > 0);
        const count = lit.filter(Boolean).length;
        expect(count).toBe(Math.round((n / 127) * 6));
        expect(lit.slice(0, count).every(Boolean)).toBe(true);
      }),
      { numRuns: 20 },
    );
    room.set('volume/1', 1);
    expect(room.light('pads', 'pad-57')).toBe(number('#22c55e'));
    expect(room.light('pads', 'pad-17')).toBe(number('#ef4444'));
  });

  test('the highest place stays for its time and then goes', () => {
    const room = new LitRoom(meter({ peak: 1_000 })).set('volume/1', 1).set('volume/1', 0.2);
    const lit = () => column.map((pad) => room.light('pads', `pad-${pad}`) > 0);
    expect(lit()).toEqual([true, false, false, false, false, true]);
    room.run(1_200_000);
    expect(lit()).toEqual([true, false, false, false, false, false]);
  });

  test('the control’s own binding of a higher layer hides a showing; one of a higher layer hides the control', () => {
    const profile: Profile = {
      ...pads({ 'pad-1': studio('mute', 0) }),
      layers: { base: { id: 'base', label: 'Base' }, top: { id: 'top', label: 'Top' } },
      layerOrder: ['base', 'top'],
      ...showings({
        layer: 'top',
        shows: { layer: 'top' },
        on: padRefs(1),
        spread: 'same',
        returns: { states: { on: { colour: '#0000ff' } } },
      }),
    };
    const room = new LitRoom(profile).set('mute/1', 1);
    expect(room.light('pads', 'pad-1')).toBe(number('#f59e0b'));
    room.world.engine.setLayer('top', true, room.world.time);
    expect(room.run(50_000).light('pads', 'pad-1')).toBe(number('#0000ff'));
    room.world.engine.setLayer('top', false, room.world.time);
    expect(room.run(50_000).light('pads', 'pad-1')).toBe(number('#f59e0b'));
  });

  test('what a showing names and is not there is told, and the rest works', () => {
    const profile = pads(
      { 'pad-1': studio('mute', 0) },
      showings(
        { layer: 'base', shows: { flag: 'gone' }, on: padRefs(2), spread: 'same' },
        { layer: 'base', shows: { layer: 'base' }, on: padRefs(99, 3), spread: 'same' },
      ),
    );
    const room = new LitRoom(profile).set('mute/1', 1);
    expect(room.world.engine.plan.broken.map(({ showing, what }) => [showing, what])).toEqual([
      ['s0', 'flag'],
      ['s1', 'control'],
    ]);
    expect(room.light('pads', 'pad-1')).toBeGreaterThan(0);
    expect(room.light('pads', 'pad-3')).toBeGreaterThan(0);
  });
});
