import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import fc from 'fast-check';
import { LinkPorts, type PortsHere } from './link-ports';
import { OpenSession } from './open-session';
import { SIMULATED, rememberDevice, type PortChoice } from './port-choice';
import type { Named } from './port-names';
import type { ProfileLink } from './profile-links';
import type { ToWorker } from './protocol';
import type { Answer } from './recogniser';

afterEach(() => localStorage.clear());

const LINKS: readonly ProfileLink[] = [
  { link: 'surface:desk', kind: 'surface', label: 'Desk', isOsc: false },
  { link: 'surface:pad', kind: 'surface', label: 'Pad', isOsc: false },
  { link: 'surface:glass', kind: 'surface', label: 'Glass', isOsc: true },
  { link: 'host:studio', kind: 'host', label: 'Studio', isOsc: false },
];
const portOf = (id: string): Named => ({ id, name: `Port ${id}` });
const IDS = ['a', 'b', 'c'];

/** A room in which ports come and go; a device says who it is by the name of its output. */
function room() {
  const inputs = signal<readonly Named[]>([]);
  const outputs = signal<readonly Named[]>([]);
  const open = new Set<string>();
  const midi = {
    changed: (): void => undefined,
    inputs,
    outputs,
    listen: (id: string) => {
      const isHere = inputs().some((port) => port.id === id);
      if (isHere) open.add(id);
      return isHere;
    },
    ignore: (id: string) => void open.delete(id),
    hasOutput: (id: string) => outputs().some((port) => port.id === id),
  } as unknown as PortsHere;
  const answers = new Map<string, Answer>();
  const told = new Map<string, Extract<ToWorker, { kind: 'ports' }>>();
  const order: string[] = [];
  const session = new OpenSession();
  const ports = TestBed.runInInjectionContext(
    () =>
      new LinkPorts(
        midi,
        { ask: (output) => Promise.resolve(answers.get(output) ?? null) },
        session,
        {
          post: (message) => {
            if (message.kind !== 'ports' && message.kind !== 'net') return;
            order.push(message.link);
            if (message.kind === 'ports') told.set(message.link, message);
          },
          links: () => LINKS,
          modelOf: (link) => (link.startsWith('surface:') ? `model of ${link}` : null),
        },
      ),
  );
  session.open('p');
  const plug = (ins: readonly string[], outs: readonly string[]) => {
    inputs.set(ins.map(portOf));
    outputs.set(outs.map(portOf));
    for (const id of open) if (!ins.includes(id)) open.delete(id);
    midi.changed();
  };
  return { answers, inputs, midi, open, order, outputs, plug, ports, session, told };
}

const midiLink = fc.constantFrom('surface:desk', 'surface:pad', 'host:studio');
const port = fc.option(fc.constantFrom(...IDS).map(portOf));
const step = fc.oneof(
  fc.record({
    does: fc.constant('choose' as const),
    link: midiLink,
    choice: fc.record({ real: fc.boolean(), input: port, output: port }),
  }),
  fc.record({
    does: fc.constant('plug' as const),
    ins: fc.subarray(IDS),
    outs: fc.subarray(IDS),
  }),
  fc.record({ does: fc.constant('divert' as const), on: fc.boolean() }),
);

test('over random choices, plugs and teaching: the engine is told of open ports alone, hosts first, and nothing of what is diverted', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
      localStorage.clear();
      const { open, order, outputs, plug, ports, session, told } = room();
      let isDiverted = false;
      for (const one of steps) {
        order.length = 0;
        if (one.does === 'choose') ports.choose(one.link, one.choice);
        else if (one.does === 'plug') plug(one.ins, one.outs);
        else ports.divert((isDiverted = one.on));
        // Each is told of, once, hosts before surfaces.
        expect([...order].sort()).toEqual(LINKS.map(({ link }) => link).sort());
        expect(order[0]).toBe('host:studio');
        for (const [link, { real, input, output }] of told) {
          const choice = session.choiceOf(link);
          expect(real).toBe(choice.real);
          if (input !== null) expect(open).toContain(input);
          if (!choice.real || isDiverted) expect(input).toBeNull();
          else expect(input).toBe(open.has(choice.input?.id ?? '') ? choice.input?.id : null);
          const isThere = outputs().some(({ id }) => id === choice.output?.id);
          expect(output).toBe(choice.real && isThere ? choice.output?.id : null);
        }
      }
    }),
  );
});

test('what was said stays said: no port that comes or goes changes a choice but its id', () => {
  fc.assert(
    fc.property(
      fc.record({ real: fc.boolean(), input: port, output: port }),
      fc.array(fc.tuple(fc.subarray(IDS), fc.subarray(IDS)), { maxLength: 8 }),
      (choice, plugs) => {
        localStorage.clear();
        const { plug, ports } = room();
        plug(IDS, IDS);
        ports.choose('surface:desk', choice);
        for (const [ins, outs] of plugs) plug(ins, outs);
        expect(ports.choiceOf('surface:desk')).toEqual({ ...choice, said: true });
      },
    ),
  );
});

test('a device that is known is taken up where nothing was said, by one link alone', () => {
  const { plug, ports, told } = room();
  const known: PortChoice = { real: true, input: portOf('a'), output: portOf('a') };
  rememberDevice('model of surface:desk', known);
  rememberDevice('model of surface:pad', known);
  plug(IDS, IDS);
  expect(told.get('surface:desk')).toMatchObject({ real: true, input: 'a', output: 'a' });
  expect(told.get('surface:pad')).toMatchObject({ real: false, input: null });
  ports.choose('surface:desk', SIMULATED);
  expect(told.get('surface:desk')).toMatchObject({ real: false, input: null });
});

test('a device in another socket is found by who it says it is, and never taken from another link', async () => {
  const { answers, plug, ports, told } = room();
  const identity = { manufacturer: '7d', family: 1, member: 2 };
  const answer = (inputId: string) => ({ identity: { ...identity, version: '' }, inputId });
  plug(['a'], ['a']);
  answers.set('a', answer('a') as unknown as Answer);
  ports.choose('surface:desk', { real: true, input: portOf('a'), output: portOf('a') });
  await Promise.resolve();
  await Promise.resolve();
  expect(ports.choiceOf('surface:desk').identity).toEqual(identity);
  answers.clear();
  answers.set('b', answer('c') as unknown as Answer);
  plug(['b', 'c'], ['b']);
  await ports.findAgain();
  expect(told.get('surface:desk')).toMatchObject({ input: 'c', output: 'b' });
  // Of another program's port it is not asked.
  ports.choose('host:studio', { real: true, input: null, output: portOf('c') });
  answers.set('c', answer('c') as unknown as Answer);
  plug(['c'], ['c']);
  await ports.findAgain();
  expect(told.get('surface:desk')?.output).toBeNull();
});

test('behind another port is another device: who it was is forgotten', () => {
  const { plug, ports } = room();
  plug(IDS, IDS);
  const identity = { manufacturer: '7d', family: 1, member: 2 };
  ports.choose('host:studio', { real: true, input: null, output: portOf('a') });
  ports.choose('host:studio', { real: true, input: null, output: portOf('a'), identity });
  expect(ports.choiceOf('host:studio').identity).toEqual(identity);
  ports.choose('host:studio', { real: true, input: null, output: portOf('b'), identity });
  expect(ports.choiceOf('host:studio').identity).toBeUndefined();
});

test('inputs that nobody chose are let go of as the last screen that shows them goes', () => {
  const { open, plug, ports } = room();
  plug(IDS, IDS);
  ports.choose('surface:desk', { real: true, input: portOf('a'), output: null });
  const first = ports.watchAll();
  const second = ports.watchAll();
  TestBed.tick();
  expect([...open].sort()).toEqual(IDS);
  first();
  expect([...open].sort()).toEqual(IDS);
  second();
  expect([...open]).toEqual(['a']);
});
