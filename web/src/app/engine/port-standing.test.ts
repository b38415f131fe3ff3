import fc from 'fast-check';
import type { MidiState } from './midi';
import { standingOf, type PortsNow } from './port-standing';

const STATES: readonly MidiState[] = [
  'not asked',
  'asking',
  'granted',
  'granted without SysEx',
  'refused',
  'no support',
  'no platform',
];
const port = fc.constantFrom('a', 'b', 'c').map((id) => ({ id, name: `Port ${id}` }));
const ports = fc.uniqueArray(port, { selector: ({ id }) => id });
const now: fc.Arbitrary<PortsNow> = fc.record({
  state: fc.constantFrom(...STATES),
  inputs: ports,
  outputs: ports,
  trouble: fc.dictionary(fc.constantFrom('a', 'b', 'c'), fc.constant('Another program has it.')),
});
const choice = fc.record({
  real: fc.boolean(),
  input: fc.option(port),
  output: fc.option(port),
});

test('“real ports” stands over no link that is dead, and every dead one says why', () => {
  fc.assert(
    fc.property(choice, now, (chosen, here) => {
      const { heading, fault } = standingOf(chosen, here);
      const isHere = (what: typeof chosen.input, list: PortsNow['inputs']) =>
        what === null || (list.some(({ id }) => id === what.id) && !here.trouble[what.id]);
      const works =
        here.state.startsWith('granted') &&
        (chosen.input !== null || chosen.output !== null) &&
        isHere(chosen.input, here.inputs) &&
        isHere(chosen.output, here.outputs);
      if (!chosen.real) expect([heading, fault]).toEqual(['simulated', '']);
      else {
        expect(heading === 'real ports').toBe(works);
        expect(fault === '').toBe(works);
      }
    }),
  );
});
