import { nineFerriesMix, type Profile } from '@rondo/core/profile';
import { LitRoom } from '../../testing/lit-room.js';

describe('texts', () => {
  test('the display names the layer', () => {
    const profile: Profile = { ...nineFerriesMix(), returns: { upper: '{layer}' } };
    const room = new LitRoom(profile);
    expect(room.text('desk', 'display-1')).toBe('Base');
    room.world.engine.setLayer('sends', true, room.world.time);
    expect(room.run(100_000).text('desk', 'display-1')).toBe('Sends');
  });

  test('a text joins the name of the track and its value, cut with sense', () => {
    const room = new LitRoom({ ...nineFerriesMix(), returns: { lower: '{function} {bank}' } });
    expect(room.text('desk', 'display-1', 'lower')).toBe('Pn 1-8');
    const other = new LitRoom({ ...nineFerriesMix(), returns: { upper: '{tempo}' } });
    expect(other.text('desk', 'display-3')).toBe('96.0');
  });

  test('the counter shows the time of the host, digit by digit', () => {
    const room = new LitRoom(nineFerriesMix()).set('play', 1).run(2_000_000);
    const time = room.host.texts[room.host.slotOf('time')];
    const counter = room.text('desk', 'counter').replace(/\s+/g, ' ').trim();
    expect(counter.length).toBeGreaterThan(2);
    // Dots and colons are the dots of the digits.
    const digits = (text: string) => text.replace(/\D/g, '');
    expect(digits(time).endsWith(digits(counter)) || digits(time).startsWith(digits(counter))).toBe(
      true,
    );
  });
});
