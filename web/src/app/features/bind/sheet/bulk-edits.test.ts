import { bindingsOf, editBindings, nineFerriesMix, type Binding } from '@rondo/core/profile';
import { TAKEOVERS } from '@rondo/core/surface';
import fc from 'fast-check';
import { OTHER_EDITS, behave, groupAs, onlyWhile, takeOverBy, type BulkEdit } from './bulk-edits';

const PROFILE = nineFerriesMix();
const other = (value: string): BulkEdit => OTHER_EDITS.find((one) => one.value === value)!.edit;
const FLAG = PROFILE.flagOrder[0];

const edit = fc.oneof(
  fc.constantFrom(...OTHER_EDITS.map((one) => one.edit)),
  fc.constantFrom(...TAKEOVERS, 'inherit' as const).map(takeOverBy),
  fc.constantFrom('follow' as const, 'toggle' as const).map(behave),
  fc.constantFrom('', ' ', 'Lights', ' Lights ').map(groupAs),
  fc.constantFrom(...PROFILE.flagOrder).map(onlyWhile),
);
const ids = fc.subarray([...PROFILE.bindingOrder], { minLength: 1, maxLength: 12 });

/** The bindings after edits, one after the other. */
function after(chosen: readonly string[], edits: readonly BulkEdit[]): Record<string, Binding> {
  const profile = edits.reduce(
    (now, change) => editBindings(now, 'Edit', chosen, change).document,
    PROFILE,
  );
  return profile.bindings as Record<string, Binding>;
}

test('an edit of many concerns those alone, done twice is as done once, and its opposite takes it back', () => {
  fc.assert(
    fc.property(ids, fc.array(edit, { maxLength: 4 }), edit, (chosen, before, one) => {
      const once = after(chosen, [...before, one]);
      expect(after(chosen, [...before, one, one])).toEqual(once);
      for (const id of PROFILE.bindingOrder)
        if (!chosen.includes(id)) expect(once[id]).toBe(PROFILE.bindings[id]);
      for (const [there, back] of [
        [other('passOn'), other('end')],
        [other('pin'), other('unpin')],
        [groupAs('Lights'), groupAs('')],
        [takeOverBy('scale'), takeOverBy('inherit')],
        [onlyWhile(FLAG), other('always')],
      ])
        expect(after(chosen, [...before, back, there, back])).toEqual(
          after(chosen, [...before, back]),
        );
    }),
    { numRuns: 60 },
  );
});

test('a flag is a condition once, whatever it was before, and the others stay', () => {
  const [first] = bindingsOf(PROFILE, PROFILE.bindings[PROFILE.bindingOrder[0]].control!);
  const off: BulkEdit = (binding) => {
    binding.when = [
      { flag: FLAG, is: 'off' },
      { flag: 'another', is: 'on' },
    ];
  };
  expect(after([first.id], [off, onlyWhile(FLAG)])[first.id].when).toEqual([
    { flag: 'another', is: 'on' },
    { flag: FLAG, is: 'on' },
  ]);
});
