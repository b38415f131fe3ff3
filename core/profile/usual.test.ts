import { modelOfHost, placard, takesKeys } from '@rondo/core/host';
import { usualBehaviour } from './index.js';

test('what a key does once is done once; one that is held, or repeats, is down as long as its control', () => {
  const model = modelOfHost(placard());
  expect(takesKeys(model)).toBe(true);
  const usual = (id: string) =>
    usualBehaviour(
      model.functions.find((fn) => fn.id === id)!,
      'push',
      false,
    )?.behaviour;
  expect(['nextSheet', 'blank', 'torch', 'scrollOn'].map(usual)).toEqual([
    'set',
    'toggle',
    'momentary',
    'momentary',
  ]);
});
