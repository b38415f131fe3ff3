import { HOST_MODELS, slotsOf } from '@rondo/core/host';
import { addHost, addSurface, bind, emptyProfile, type Profile } from '@rondo/core/profile';
import { Know, Stop, notAvailable, partKey } from '@rondo/core/round';
import { Room } from '../../testing/room.js';

const bare = (host: string): Profile => {
  const profile: Profile = {
    ...emptyProfile('p', 'P'),
    surfaces: {},
    surfaceOrder: [],
    hosts: {},
    hostOrder: [],
  };
  const { document } = addSurface(profile, 'burrow-14', 'Box');
  return addHost(document, host, host).document;
};
const button = { surface: 'surface-1', control: 'button-1', part: 'push' } as const;

/** Presses a button that is bound to one slot, and says why it stopped where it was not available. */
function press(host: string, fn: string, strip: number, window = false) {
  const profile = bind(bare(host), 'Bind', button, {
    do: 'function',
    host,
    function: fn,
    scope: window ? { kind: 'window', offset: strip } : { kind: 'fixed', strip },
    behaviour: 'set',
    to: 1,
  }).document;
  const room = new Room({ profile });
  const { engine } = room.world;
  return {
    room,
    why() {
      room.do(() => room.desk().press('button-1', true), 20_000);
      room.do(() => room.desk().press('button-1', false), 20_000);
      const part = engine.plan.parts.findIndex(
        ({ key }) => key === partKey('surface-1', 'button-1', 'push'),
      );
      const { aim } = engine.plan.actions[0];
      const isOff = (slot: number) =>
        engine.beliefs.know[slot] !== Know.Unknown && engine.beliefs.value[slot] < 0.5;
      const says = aim ? notAvailable(engine.plan, aim, engine.bank.start, isOff) : '';
      return { isStopped: engine.log!.stop[part] === Stop.NotAvailable, says };
    },
  };
}

test('what a strip has not, and what waits for something else, says so, and only that', () => {
  let stopped = 0;
  for (const host of ['studio', 'booth']) {
    const slots = slotsOf(HOST_MODELS.get(host)!).filter(
      ({ strip, set, exists, fn }, n) =>
        strip >= 0 && (!exists || (set && (fn.needs || n % 40 === 0))),
    );
    for (const { fn, strip } of slots.filter((_, n) => n % 3 === 0)) {
      if (strip >= HOST_MODELS.get(host)!.strips.length) continue;
      const { isStopped, says } = press(host, fn.id, strip).why();
      expect([host, fn.id, strip, says !== '']).toEqual([host, fn.id, strip, isStopped]);
      if (isStopped) {
        stopped++;
        expect(says).toContain(fn.label);
      }
    }
  }
  expect(stopped).toBeGreaterThan(5);
});

test('the master cannot be armed; a bank that ends too soon says how far it goes', () => {
  const master = HOST_MODELS.get('studio')!.strips.findIndex(({ name }) => name === 'Master');
  expect(press('studio', 'arm', master).why()).toEqual({
    isStopped: true,
    says: 'Master has no Arm in studio.',
  });
  const windowed = press('studio', 'mute', 7, true);
  windowed.room.world.engine.goToBank(19, windowed.room.world.time);
  const { isStopped, says } = windowed.why();
  expect([isStopped, says !== '']).toEqual([says !== '', isStopped]);
});
