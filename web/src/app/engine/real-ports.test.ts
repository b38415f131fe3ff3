import fc from 'fast-check';
import type { FromEngine } from '../../midi/protocol';
import { RealPorts, type PortedEngine } from './real-ports';

const LINKS = ['surface:desk', 'host:studio', 'host:synth'];

/** An engine that holds what it is told to: one byte stands for a release. */
function room() {
  const held = new Map<string, number>();
  const heardOn = new Map<string, number>();
  const engine = {
    heldVersion: 0,
    linkOf: (key: string) => LINKS.indexOf(key),
    releaseBytes: (link: number) => {
      const byte = held.get(LINKS[link]);
      return byte === undefined ? new Uint8Array(0) : Uint8Array.of(byte);
    },
    setHeardOn: (link: number, input: number) => void heardOn.set(LINKS[link], input),
    plan: {
      links: LINKS.map((key) => ({
        key,
        kind: key.startsWith('host') ? ('host' as const) : ('surface' as const),
        isOsc: false,
      })),
    },
  } satisfies PortedEngine;
  const said: FromEngine[] = [];
  const ports = new RealPorts({ takes: () => false, say: () => undefined, will: () => undefined });
  ports.join((message) => said.push(message));
  return { engine, held, heardOn, said, ports };
}

const link = fc.constantFrom(...LINKS);
const port = fc.option(fc.constantFrom('one', 'two'));
const step = fc.oneof(
  fc.record({ does: fc.constant('set' as const), link, input: port, output: port }),
  fc.record({ does: fc.constant('hold' as const), link, byte: fc.option(fc.nat(255)) }),
  fc.record({ does: fc.constant('say' as const), link, byte: fc.nat(255) }),
  fc.record({ does: fc.constant('send' as const) }),
);

test('over random ports, holds and messages: all leaves in order, the last will of each link is what it holds', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      const { engine, held, said, ports } = room();
      const gathered = new Map<string, number[]>();
      for (const one of steps) {
        if (one.does === 'set') ports.set(engine, one.link, one);
        else if (one.does === 'say') {
          ports.gather(one.link, Uint8Array.of(one.byte));
          gathered.set(one.link, [...(gathered.get(one.link) ?? []), one.byte]);
        } else if (one.does === 'hold') {
          if (one.byte === null) held.delete(one.link);
          else held.set(one.link, one.byte);
          engine.heldVersion++;
        } else ports.send(engine);
      }
      const paid = said.filter((one) => one.kind === 'sends').length;
      ports.send(engine);
      ports.send(engine);
      // What has not changed is not told again.
      expect(said.filter((one) => one.kind === 'sends').length - paid).toBeLessThan(2);
      const wills = new Map<string, number[]>();
      const left = new Map<string, number[]>();
      for (const one of said) {
        if (one.kind !== 'sends') continue;
        for (const will of one.wills) wills.set(will.link, [...will.bytes]);
        // What is owed goes by itself, and only where nothing else does.
        for (const { link: to, bytes } of one.list)
          left.set(to, [...(left.get(to) ?? []), ...bytes]);
      }
      for (const key of LINKS.filter((one) => one.startsWith('host')))
        expect(wills.get(key)).toEqual(held.has(key) ? [held.get(key)] : []);
      for (const [key, bytes] of gathered) {
        const rest = [...(left.get(key) ?? [])];
        for (const byte of bytes) {
          const at = rest.indexOf(byte);
          expect(at).toBeGreaterThanOrEqual(0);
          rest.splice(0, at + 1);
        }
      }
    }),
  );
});

test('what was held on an output is released there when it comes back, once, and nowhere else', () => {
  fc.assert(
    fc.property(fc.array(port, { minLength: 1, maxLength: 12 }), (outputs) => {
      const { engine, held, said, ports } = room();
      held.set('host:studio', 7);
      let before: string | null = null;
      let owed: string | null = null;
      for (const output of outputs) {
        const from = said.length;
        ports.set(engine, 'host:studio', { input: null, output });
        if (before !== null && output === null) owed = before;
        const sent = said.slice(from).flatMap((one) => (one.kind === 'sends' ? one.list : []));
        expect(sent.map(({ bytes }) => [...bytes])).toEqual(
          output !== null && owed === output ? [[7]] : [],
        );
        if (owed === output) owed = null;
        before = output;
      }
    }),
  );
});

test('links on one input have one number, all others none', () => {
  fc.assert(
    fc.property(fc.tuple(port, port, port), (inputs) => {
      const { engine, heardOn, ports } = room();
      LINKS.forEach((key, at) => ports.set(engine, key, { input: inputs[at], output: null }));
      LINKS.forEach((one, a) => {
        const alone = inputs.filter((input) => input === inputs[a]).length === 1;
        expect((heardOn.get(one) ?? -1) < 0).toBe(inputs[a] === null || alone);
        LINKS.forEach((other, b) => {
          if ((heardOn.get(one) ?? -1) >= 0 && heardOn.get(one) === heardOn.get(other))
            expect(inputs[a]).toBe(inputs[b]);
        });
      });
    }),
  );
});
