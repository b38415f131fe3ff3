import { NET_HEAD, netStretch, type NetChoice, type NetStanding } from '@rondo/core/wire';
import { OscNet, type NetEvents } from './osc-net';

const place = (listen: number): NetChoice => ({
  listen,
  to: { host: '127.0.0.1', port: 9_001 },
  from: [],
});
const places = (...listen: number[]) =>
  new Map(listen.map((port, n) => [`surface:${n}`, place(port)]));

/** The server's end, by hand. */
function net() {
  const sockets: {
    events: NetEvents;
    texts: string[];
    stretches: Uint8Array[];
    isShut: boolean;
  }[] = [];
  const later: (() => void)[] = [];
  const waits: number[] = [];
  const heard: { link: string; bytes: number[] }[] = [];
  const told: (readonly NetStanding[])[] = [];
  const osc = new OscNet(
    (events) => {
      const socket = {
        events,
        texts: [] as string[],
        stretches: [] as Uint8Array[],
        isShut: false,
      };
      sockets.push(socket);
      return {
        send: (data) =>
          typeof data === 'string' ? socket.texts.push(data) : socket.stretches.push(data),
        close: () => (socket.isShut = true),
      };
    },
    (work, ms) => {
      later.push(work);
      waits.push(ms);
    },
    {
      heard: (link, bytes) => heard.push({ link, bytes: [...bytes] }),
      standing: (standing) => told.push(standing),
      strokes: (link) => [`${link}’s`],
      news: () => undefined,
    },
  );
  const rounds = (n: number) =>
    sockets[n].texts.flatMap((text) => {
      const said = JSON.parse(text) as { kind: string; round?: number };
      return said.kind === 'places' ? [said.round] : [];
    });
  return { osc, sockets, later, waits, heard, told, rounds };
}
const standing = (round: number | undefined, ...links: string[]) =>
  JSON.stringify({
    kind: 'standing',
    round,
    standing: links.map((link) => ({ link, hears: true, speaks: true, fault: '' })),
  });

test('how the places of an earlier round stood opens nothing that has been chosen anew since', () => {
  const { osc, sockets, told, rounds } = net();
  osc.set(places(9_000));
  sockets[0].events.opened();
  osc.set(places(9_002));
  const [first, second] = rounds(0);
  sockets[0].events.text(standing(first, 'surface:0'));
  expect(told).toEqual([]);
  sockets[0].events.text(standing(second, 'surface:0'));
  expect(told).toHaveLength(1);
});

test('what was on its way as the places changed is heard at none of the new ones', () => {
  const { osc, sockets, heard, rounds } = net();
  osc.set(places(9_000, 9_002));
  sockets[0].events.opened();
  osc.set(places(9_002));
  const [first, second] = rounds(0) as number[];
  sockets[0].events.bytes(netStretch(first, 0, Uint8Array.of(1)));
  sockets[0].events.bytes(netStretch(second, 0, Uint8Array.of(2)));
  sockets[0].events.bytes(netStretch(second, 1, Uint8Array.of(3)));
  expect(heard).toEqual([{ link: 'surface:0', bytes: [2] }]);
});

test('a socket that breaks is opened again, later each time; meanwhile nothing goes, and it is said', () => {
  const { osc, sockets, later, waits, told } = net();
  osc.set(places(9_000));
  osc.say('surface:0', Uint8Array.of(1));
  expect(sockets[0].stretches).toEqual([]);
  sockets[0].events.closed();
  expect(told.at(-1)).toEqual([expect.objectContaining({ hears: false, speaks: false })]);
  later.shift()?.();
  sockets[1].events.closed();
  expect(waits[1]).toBeGreaterThan(waits[0]);
  later.shift()?.();
  sockets[2].events.opened();
  osc.will('surface:0', Uint8Array.of(7));
  osc.say('surface:0', Uint8Array.of(1));
  expect(sockets[2].stretches.map((bytes) => [...bytes.subarray(NET_HEAD)])).toEqual([[1]]);
  // Whoever comes again says anew what is to be released.
  sockets[2].events.closed();
  later.shift()?.();
  sockets[3].events.opened();
  expect(sockets[3].texts.map((text) => (JSON.parse(text) as { kind: string }).kind)).toEqual([
    'places',
    'will',
  ]);
});

test('without a place there is no socket, and none is opened again', () => {
  const { osc, sockets, later } = net();
  osc.set(places());
  expect(sockets).toEqual([]);
  osc.set(places(9_000));
  osc.set(places());
  expect(sockets[0].isShut).toBe(true);
  sockets[0].events.closed();
  expect(later).toEqual([]);
});
