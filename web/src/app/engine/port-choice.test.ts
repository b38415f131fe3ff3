import { SIMULATED, deviceHere, rememberDevice } from './port-choice';

const port = (id: string, name = id) => ({ id, name });
beforeEach(() => localStorage.clear());

test('a device is found where it was last, by its ports’ ids or names, and only while it is there', () => {
  const choice = { real: true, input: port('i1', 'Desk'), output: port('o1', 'Desk'), said: true };
  rememberDevice('harrow-8', choice);
  const { said: _said, ...known } = choice;
  expect(deviceHere('harrow-8', [port('i1', 'Desk')], [port('o1', 'Desk')])).toEqual(known);
  // In another socket its ids are others.
  expect(deviceHere('harrow-8', [port('i7', 'Desk')], [])?.input).toEqual(port('i7', 'Desk'));
  expect(deviceHere('harrow-8', [port('x', 'Other')], [])).toBeNull();
  // Two of one name cannot be told apart.
  expect(deviceHere('harrow-8', [port('a', 'Desk'), port('b', 'Desk')], [])).toBeNull();
  expect(deviceHere('treadle', [port('i1', 'Desk')], [])).toBeNull();
});

test('what cannot be read is as if nothing had been chosen', () => {
  localStorage.setItem('rondo.devices', '{"harrow-8": 3}');
  expect(deviceHere('harrow-8', [port('i1')], [])).toBeNull();
  rememberDevice('harrow-8', { ...SIMULATED, real: true, input: port('i1') });
  expect(deviceHere('harrow-8', [port('i1')], [])?.real).toBe(true);
});
