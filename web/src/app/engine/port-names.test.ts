import fc from 'fast-check';
import { chosenOf, findPort, tellApart, type Named } from './port-names';

const name = fc.constantFrom('Desk', 'Pads', 'Box');
const ports = fc
  .uniqueArray(fc.nat(20), { maxLength: 6 })
  .chain((ids) => fc.tuple(...ids.map((id) => fc.record({ id: fc.constant(`${id}`), name }))));

test('the same device twice is told apart', () => {
  const three = ['Desk', 'Pads', 'Desk'].map((called, i) => ({ id: String(i), name: called }));
  expect(tellApart(three).map(({ label }) => label)).toEqual([
    'Desk (1 of 2)',
    'Pads',
    'Desk (2 of 2)',
  ]);
});

test('no two lines of a list of ports read the same', () => {
  fc.assert(
    fc.property(ports, (here: Named[]) => {
      const labels = tellApart(here).map(({ label }) => label);
      expect(new Set(labels).size).toBe(labels.length);
    }),
  );
});

test('of two ports of one name the other is never taken when one is unplugged', () => {
  fc.assert(
    fc.property(ports, fc.nat(), (here: Named[], which) => {
      fc.pre(here.length > 0);
      const port = here[which % here.length];
      const chosen = chosenOf(port, here);
      const left = here.filter(({ id }) => id !== port.id);
      expect(findPort(chosen, here)?.id).toBe(port.id);
      // What was here beside it is another device, whatever it is called.
      expect(findPort(chosen, left)?.id).toBe(port.id);
    }),
  );
});

test('a device whose id has changed is found by its name, where only one has that', () => {
  const chosen = chosenOf({ id: 'old', name: 'Desk' }, [{ id: 'old', name: 'Desk' }]);
  const desk = { id: 'new', name: 'Desk' };
  expect(findPort(chosen, [desk])).toEqual(desk);
  expect(findPort(chosen, [desk, { id: 'newer', name: 'Desk' }])).toEqual(chosen);
  expect(findPort(chosen, [])).toEqual(chosen);
  expect(findPort(null, [desk])).toBeNull();
});
