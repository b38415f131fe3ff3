import { USER_ACTIONS, VIEWS } from './choices.js';
import { host, trigger, numbered } from './sketches.js';

/** User actions, the next track, and which view is in front. */
export const otherFunctions = () => [
  ...numbered(USER_ACTIONS, (n) =>
    trigger(`user${n}`, `User action ${n}`, 'Actions', `macro, script ${n}`),
  ),
  host({ id: 'lastAction', label: 'Last action', category: 'Actions', kind: 'text' }),
  trigger('trackNext', 'Next track', 'View', 'select, forward, right'),
  trigger('trackPrevious', 'Previous track', 'View', 'select, back, left'),
  host({
    id: 'front',
    label: 'View in front',
    category: 'View',
    kind: 'choice',
    choices: [...VIEWS],
    view: true,
    also: 'page, window, screen, mixer, clips, song',
  }),
];
