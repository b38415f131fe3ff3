import fc from 'fast-check';
import { emptyProfile, type Profile } from '@rondo/core/profile';
import { MOST_LATE, PLAIN_HABITS } from '@rondo/core/standin';
import { Session, compileCopy } from '../../testing/random-room.js';

/** Two functions of two programs that follow each other through host changes. */
function mutual(name: string, follow: boolean): Profile {
  const profile: Profile = {
    ...emptyProfile('causes', 'Causes'),
    surfaces: {},
    surfaceOrder: [],
    hosts: {
      a: { id: 'a', model: 'studio', label: 'A' },
      b: { id: 'b', model: 'studio', label: 'B' },
    },
    hostOrder: ['a', 'b'],
    bindings: {},
    bindingOrder: [],
  };
  const scope = { kind: 'fixed' as const, strip: 0 };
  for (const [from, to] of [
    ['a', 'b'],
    ['b', 'a'],
  ]) {
    profile.bindings[from] = {
      id: from,
      layer: profile.layerOrder[0],
      cause: { host: from, function: name, scope, when: 'change' },
      actions: [
        {
          do: 'function',
          host: to,
          function: name,
          scope,
          behaviour: follow ? 'follow' : 'toggle',
        },
      ],
    };
    profile.bindingOrder.push(from);
  }
  return profile;
}

const value = (session: Session, host: string, name: string): number => {
  const program = session.world.hosts.get(`host:${host}`)!;
  return program.values![program.slotOf(`${name}/1`)];
};
const click = fc.record({
  host: fc.constantFrom('a', 'b'),
  on: fc.nat(127),
  wait: fc.integer({ min: 0, max: 400 }),
});

test('two mutes that follow each other end equal however they are clicked, and that is no cycle', () => {
  fc.assert(
    fc.property(
      fc.array(click, { minLength: 1, maxLength: 12 }),
      fc.nat(MOST_LATE),
      (clicks, late) => {
        const session = new Session(compileCopy(mutual('mute', true)), () => ({
          ...PLAIN_HABITS,
          late,
        }));
        for (const { host, on, wait } of clicks) {
          const program = session.world.hosts.get(`host:${host}`)!;
          program.set(program.slotOf('mute/1'), on & 1);
          session.wait(wait * 1_000);
        }
        session.wait(3_000_000);
        expect(value(session, 'a', 'mute')).toBe(value(session, 'b', 'mute'));
        expect(session.world.engine.causes.cut).toBe(0);
      },
    ),
    { numRuns: 60 },
  );
});

test('two volumes that follow each other come to rest near each other, rounded as each program does', () => {
  fc.assert(
    fc.property(
      fc.array(click, { minLength: 1, maxLength: 6 }),
      fc.integer({ min: 16, max: 128 }),
      (clicks, steps) => {
        const session = new Session(compileCopy(mutual('volume', true)), () => ({
          ...PLAIN_HABITS,
          steps,
        }));
        for (const { host, on, wait } of clicks) {
          const program = session.world.hosts.get(`host:${host}`)!;
          program.set(program.slotOf('volume/1'), on / 127);
          session.wait(wait * 1_000);
        }
        session.wait(3_000_000);
        expect(
          Math.abs(value(session, 'a', 'volume') - value(session, 'b', 'volume')),
        ).toBeLessThanOrEqual(1 / (steps - 1));
        const { length } = session.out;
        session.wait(2_000_000);
        expect(session.out.length).toBe(length);
      },
    ),
    { numRuns: 30 },
  );
});

test('what would go on for ever is cut, and that is told', () => {
  const session = new Session(compileCopy(mutual('mute', false)));
  const program = session.world.hosts.get('host:a')!;
  program.set(program.slotOf('mute/1'), 1);
  session.wait(3_000_000);
  expect(session.world.engine.causes.cut).toBeGreaterThan(0);
  expect(session.out.length).toBeLessThan(20);
});
