import type { Draft } from 'immer';
import type { Behaviour, Binding } from '@rondo/core/profile';
import type { Takeover } from '@rondo/core/surface';

/** What is done to each of many bindings. */
export type BulkEdit = (binding: Draft<Binding>) => void;

/** All its functions behave so from now on. */
export const behave =
  (behaviour: Behaviour): BulkEdit =>
  ({ actions }) => {
    for (const action of actions) if (action.do === 'function') action.behaviour = behaviour;
  };

/** It says for itself how it takes over, or inherits that. */
export const takeOverBy =
  (takeover: Takeover | 'inherit'): BulkEdit =>
  (binding) => {
    const { takeover: _before, ...rest } = binding.feel ?? {};
    const feel = takeover === 'inherit' ? rest : { ...rest, takeover };
    if (Object.keys(feel).length > 0) binding.feel = feel;
    else delete binding.feel;
  };

/** It is one of a group of which only one is on; of none where the name is empty. */
export const groupAs =
  (name: string): BulkEdit =>
  (binding) => {
    const group = name.trim();
    if (group) binding.group = group;
    else delete binding.group;
  };

const invert =
  (on: boolean): BulkEdit =>
  ({ actions }) => {
    for (const action of actions) {
      if (action.do !== 'function') continue;
      const { invert: _before, ...rest } = action.shape ?? {};
      action.shape = on ? { ...rest, invert: true } : rest;
    }
  };

/** What else is done to many, with its words. */
export const OTHER_EDITS: readonly {
  readonly value: string;
  readonly label: string;
  readonly edit: BulkEdit;
}[] = [
  { value: 'invert', label: 'Invert', edit: invert(true) },
  { value: 'straight', label: 'Not inverted', edit: invert(false) },
  { value: 'passOn', label: 'Pass on', edit: (binding) => void (binding.passOn = true) },
  { value: 'end', label: 'Consume', edit: (binding) => void delete binding.passOn },
  { value: 'pin', label: 'Pin', edit: (binding) => void (binding.pinned = true) },
  { value: 'unpin', label: 'Unpin', edit: (binding) => void delete binding.pinned },
  { value: 'always', label: 'Without conditions', edit: (binding) => void delete binding.when },
];

/** It counts only while a flag is on, beside what it counts by already. */
export const onlyWhile =
  (flag: string): BulkEdit =>
  (binding) => {
    const when = (binding.when ?? []).filter((one) => !('flag' in one && one.flag === flag));
    binding.when = [...when, { flag, is: 'on' }];
  };
