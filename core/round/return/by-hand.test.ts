import { nineFerriesMix } from '@rondo/core/profile';
import { number, LitRoom, studio, pads, withBooth } from '../../testing/lit-room.js';

describe('by hand', () => {
  test('what if it is muted and armed: the light shows it, the host hears nothing', () => {
    const room = new LitRoom(
      pads(
        { 'pad-1': studio('mute', 0) },
        { returns: { states: { armed: { colour: '#400000', brightness: 1 } } } },
      ),
    );
    const { engine } = room.world;
    const slot = (address: string) =>
      engine.plan.slots.findIndex((one) => one.key === `studio/${address}`);
    engine.playAt(slot('mute/1'), 1, room.world.time);
    expect(room.run(20_000).light('pads', 'pad-1')).toBe(number('#f59e0b'));
    engine.playAt(slot('mute/1'), 0, room.world.time);
    engine.playAt(slot('arm/1'), 1, room.world.time);
    expect(room.run(20_000).light('pads', 'pad-1')).toBe(number('#400000'));
    expect(room.host.values[room.host.slotOf('mute/1')]).toBe(0);
    engine.playAt(slot('mute/1'), null, room.world.time);
    engine.playAt(slot('arm/1'), null, room.world.time);
    expect(room.run(20_000).light('pads', 'pad-1')).toBe(0);
  });

  test('what is played at, and what a light is made to show, stays over an edit of the profile', () => {
    const profile = pads({ 'pad-1': studio('mute', 0), 'pad-2': studio('solo', 1) });
    const room = new LitRoom(profile).set('mute/1', 1);
    const { engine } = room.world;
    const slot = engine.plan.slots.findIndex(({ key }) => key === 'studio/mute/1');
    const out = engine.plan.outs.findIndex(({ control }) => control.id === 'pad-2');
    engine.playAt(slot, 0, room.world.time);
    engine.tryOutput(out, 77, room.world.time);
    // An edit that moves every slot and output to another place.
    room.load({ ...profile, ...withBooth(), name: 'Pads, edited' });
    expect([room.light('pads', 'pad-1'), room.light('pads', 'pad-2')]).toEqual([0, 77]);
    const again = engine.plan.slots.findIndex(({ key }) => key === 'studio/mute/1');
    engine.playAt(again, null, room.world.time);
    expect(room.run(20_000).light('pads', 'pad-1')).toBe(number('#f59e0b'));
  });

  test('a light test shows any number of the table, and gives the light back', () => {
    const room = new LitRoom(pads({ 'pad-1': studio('mute', 0) })).set('mute/1', 1);
    const { engine } = room.world;
    const out = engine.plan.outs.findIndex(({ control }) => control.id === 'pad-1');
    for (let wire = 0; wire < 128; wire += 9) {
      engine.tryOutput(out, wire, room.world.time);
      expect(room.run(10_000).light('pads', 'pad-1')).toBe(wire);
    }
    engine.tryOutput(out, -1, room.world.time);
    expect(room.run(10_000).light('pads', 'pad-1')).toBe(number('#f59e0b'));
  });

  test('motors are swept, stopped and parked; a touched one never; then they return', () => {
    const room = new LitRoom(nineFerriesMix());
    const desk = room.desk('desk');
    const before = desk.position('fader-2');
    const { engine } = room.world;
    desk.touch('fader-1', true);
    room.world.settle();
    const held = desk.position('fader-1');
    engine.tryMotors(0, 'sweep', room.world.time);
    const places: number[] = [];
    for (let n = 0; n < 90; n++) {
      room.run(50_000);
      places.push(desk.position('fader-2'));
    }
    expect(Math.max(...places)).toBeGreaterThan(0.95);
    expect(Math.min(...places)).toBeLessThan(0.05);
    expect(desk.position('fader-1')).toBe(held);
    engine.tryMotors(0, 'stop', room.world.time);
    room.run(400_000);
    const stopped = desk.position('fader-2');
    expect(room.run(400_000).desk('desk').position('fader-2')).toBe(stopped);
    engine.tryMotors(0, 'park', room.world.time);
    expect(room.run(500_000).desk('desk').position('fader-2')).toBe(0);
    engine.tryMotors(0, null, room.world.time);
    expect(room.run(500_000).desk('desk').position('fader-2')).toBeCloseTo(before, 2);
  });
});
