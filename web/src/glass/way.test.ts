import type { FromGlass, GlassRefusal, ToGlass } from '@rondo/core/wire';
import { Way, type SocketEvents } from './way';

/** A browser's store, and the other end by hand. */
function way(code: string, kept: Record<string, string> = {}) {
  const store = {
    getItem: (key: string) => kept[key] ?? null,
    setItem: (key: string, value: string) => void (kept[key] = value),
    removeItem: (key: string) => void Reflect.deleteProperty(kept, key),
  };
  const sockets: { events: SocketEvents; said: FromGlass[]; isShut: boolean }[] = [];
  const later: (() => void)[] = [];
  /** Looks whether the way is still there; they come at their own pace. */
  const beats: (() => void)[] = [];
  const waits: number[] = [];
  const told: (ToGlass | boolean | GlassRefusal)[] = [];
  const made = new Way(
    (events) => {
      const socket = { events, said: [] as FromGlass[], isShut: false };
      sockets.push(socket);
      return {
        send: (text) => socket.said.push(JSON.parse(text) as FromGlass),
        close: () => (socket.isShut = true),
      };
    },
    store,
    (work, ms) => {
      if (ms === 3_000) return void beats.push(work);
      later.push(work);
      waits.push(ms);
    },
    code,
    'Tablet',
    {
      heard: (message) => told.push(message),
      isThere: (there) => told.push(there),
      refused: (why) => told.push(why),
    },
  );
  const hear = (n: number, message: ToGlass) => sockets[n].events.text(JSON.stringify(message));
  return { made, sockets, later, beats, waits, told, kept, hear };
}

test('a code is shown once; what is remembered of it is shown each time from then on', () => {
  const first = way('CODE');
  first.sockets[0].events.opened();
  expect(first.sockets[0].said).toEqual([{ kind: 'pair', code: 'CODE', name: 'Tablet' }]);
  first.hear(0, { kind: 'paired', id: 'a', secret: 's' });
  expect(first.sockets[0].said[1]).toEqual({ kind: 'join', id: 'a', secret: 's' });
  first.sockets[0].events.closed();
  first.later.shift()?.();
  first.sockets[1].events.opened();
  expect(first.sockets[1].said).toEqual([{ kind: 'join', id: 'a', secret: 's' }]);
  const again = way('', first.kept);
  again.sockets[0].events.opened();
  expect(again.sockets[0].said).toEqual([{ kind: 'join', id: 'a', secret: 's' }]);
});

test('a code that was used already lets in who is known, and nobody else', () => {
  const kept = { 'rondo glass': JSON.stringify({ id: 'a', secret: 's' }) };
  const known = way('CODE', kept);
  known.sockets[0].events.opened();
  known.hear(0, { kind: 'refused', why: 'code' });
  known.sockets[0].events.closed();
  known.later.shift()?.();
  known.sockets[1].events.opened();
  expect(known.sockets[1].said).toEqual([{ kind: 'join', id: 'a', secret: 's' }]);
  const stranger = way('CODE');
  stranger.sockets[0].events.opened();
  stranger.hear(0, { kind: 'refused', why: 'code' });
  stranger.sockets[0].events.closed();
  expect([stranger.told, stranger.later]).toEqual([['code'], []]);
});

test('who is sent away forgets, and does not come again by itself; who came too fast does', () => {
  const kept = { 'rondo glass': JSON.stringify({ id: 'a', secret: 's' }) };
  const away = way('', kept);
  away.sockets[0].events.opened();
  away.hear(0, { kind: 'refused', why: 'revoked' });
  expect([away.told, away.kept, away.sockets[0].isShut]).toEqual([['revoked'], {}, true]);
  const fast = way('', { 'rondo glass': JSON.stringify({ id: 'a', secret: 's' }) });
  fast.sockets[0].events.opened();
  fast.hear(0, { kind: 'refused', why: 'fast' });
  fast.sockets[0].events.closed();
  expect(fast.later).toHaveLength(1);
});

test('while there is no way nothing is said, and it is tried later each time', () => {
  const one = way('CODE');
  one.made.say({ kind: 'echo' });
  one.sockets[0].events.closed();
  one.later.shift()?.();
  one.sockets[1].events.closed();
  expect(one.sockets[0].said).toEqual([]);
  expect(one.waits[1]).toBeGreaterThan(one.waits[0]);
  expect(one.told).toEqual([false, false]);
});

test('a store that holds nonsense is as good as an empty one', () => {
  const one = way('', { 'rondo glass': '{"id":' });
  one.sockets[0].events.opened();
  expect(one.told).toEqual(['unknown']);
});

test('a way on which nothing comes back is left after two looks, and taken anew; one that answers is kept', () => {
  const one = way('', { 'rondo glass': JSON.stringify({ id: 'a', secret: 's' }) });
  one.sockets[0].events.opened();
  for (let n = 0; n < 5; n++) {
    one.beats.shift()?.();
    one.hear(0, { kind: 'echo' });
  }
  expect(one.told).toEqual([]);
  for (let n = 0; n < 3; n++) one.beats.shift()?.();
  expect([one.told, one.sockets[0].isShut]).toEqual([[false], true]);
  // The browser tells of it minutes later.
  one.sockets[0].events.closed();
  expect(one.later).toHaveLength(1);
  one.later.shift()?.();
  one.sockets[1].events.opened();
  expect(one.sockets[1].said).toEqual([{ kind: 'join', id: 'a', secret: 's' }]);
  // What comes late on the old one is nobody's.
  one.hear(0, { kind: 'panel', why: 'late' });
  expect(one.told).toEqual([false]);
});
