import type { Behaviour } from '@rondo/core/profile';

/** What each behaviour is called, and what it does in a sentence. */
export const BEHAVIOUR_WORDS: Readonly<
  Record<Behaviour, { readonly label: string; readonly about: string }>
> = {
  toggle: { label: 'Toggle', about: 'One press on, the next off.' },
  momentary: { label: 'While held', about: 'On while held, off when let go.' },
  set: { label: 'Set', about: 'Each press sets one value.' },
  step: { label: 'Step', about: 'Each press goes on to the next.' },
  follow: { label: 'Follow', about: 'As far as it is moved, or as hard as it is pressed.' },
};
