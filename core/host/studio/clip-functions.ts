import { TRACKS } from './session.js';
import { SCENES, CLIP_STATES } from './choices.js';
import { tracks, host, trigger, numbered } from './sketches.js';

/** The grid of clips: launching, the chosen cell, editing. */
export const clipFunctions = () => [
  ...numbered(SCENES, (n) =>
    tracks({
      id: `clip${n}`,
      label: `Clip ${n}`,
      category: 'Clips',
      kind: 'choice',
      choices: [...CLIP_STATES],
      waits: 'Waiting',
      also: `slot, cell, launch, scene ${n}`,
    }),
  ),
  tracks({
    id: 'clipStop',
    label: 'Stop the clips',
    category: 'Clips',
    kind: 'trigger',
    also: 'halt, slot',
  }),
  ...numbered(SCENES, (n) => trigger(`scene${n}`, `Scene ${n}`, 'Clips', `launch, row ${n}`)),
  trigger('clipStopAll', 'Stop all clips', 'Clips', 'halt'),
  host({
    id: 'cellTrack',
    label: 'Chosen cell: track',
    category: 'Clips',
    kind: 'choice',
    choices: [...TRACKS],
    also: 'clip, grid, column',
  }),
  host({
    id: 'cellScene',
    label: 'Chosen cell: scene',
    category: 'Clips',
    kind: 'choice',
    choices: Array.from({ length: SCENES }, (_, i) => `Scene ${i + 1}`),
    also: 'clip, grid, row',
  }),
  host({ id: 'cellName', label: 'Chosen cell: clip', category: 'Clips', kind: 'text' }),
  host({
    id: 'noteEnter',
    label: 'Enter a note',
    category: 'Clips',
    kind: 'choice',
    choices: Array.from({ length: 128 }, (_, note) => `Note ${note}`),
    ofNotes: true,
    also: 'step, key, write, input',
  }),
  trigger('restEnter', 'Enter a rest', 'Clips', 'step, pause, write, input'),
  trigger('clipInsert', 'Insert a clip', 'Clips', 'new, create'),
  trigger('clipCopy', 'Copy the clip', 'Clips', 'clipboard'),
  trigger('clipPaste', 'Paste the clip', 'Clips', 'clipboard'),
  trigger('clipDuplicate', 'Duplicate the clip', 'Clips', 'double, copy below'),
  trigger('clipDelete', 'Delete the clip', 'Clips', 'remove, clear'),
  trigger('clipQuantise', 'Quantise the clip', 'Clips', 'grid, timing'),
  trigger('clipSplit', 'Split the clip', 'Clips', 'cut, halve'),
];
