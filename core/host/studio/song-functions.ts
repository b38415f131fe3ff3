import { MARKERS } from './choices.js';
import { host, trigger, toggle, place, numbered } from './sketches.js';

/** Where the song is: start, punch, loop, markers; what is seen of it; undo and save. */
export const songFunctions = () => [
  trigger('toStart', 'To the start', 'Transport', 'zero, return, begin, home'),
  trigger('tapTempo', 'Tap tempo', 'Transport', 'beat, bpm'),
  toggle('punch', 'Punch', 'Transport', 'record in and out, drop in'),
  place('punchIn', 'Punch in', 'Transport', 'record from'),
  place('punchOut', 'Punch out', 'Transport', 'record to'),
  place('loopStart', 'Loop start', 'Transport', 'cycle from, left'),
  place('loopEnd', 'Loop end', 'Transport', 'cycle to, right'),
  trigger('markerAdd', 'Add a marker', 'Markers', 'locator, cue, set'),
  trigger('markerNext', 'Next marker', 'Markers', 'locator, forward'),
  trigger('markerPrevious', 'Previous marker', 'Markers', 'locator, back'),
  ...numbered(MARKERS, (n) =>
    trigger(`marker${n}`, `To marker ${n}`, 'Markers', `locator ${n}, jump`),
  ),
  host({ id: 'markerName', label: 'Name of the last marker', category: 'Markers', kind: 'text' }),
  host({
    id: 'zoomAcross',
    label: 'Zoom in time',
    category: 'View',
    kind: 'continuous',
    law: 'percent',
    view: true,
    also: 'horizontal, time',
  }),
  host({
    id: 'zoomDown',
    label: 'Zoom in height',
    category: 'View',
    kind: 'continuous',
    law: 'percent',
    view: true,
    also: 'vertical, tracks',
  }),
  trigger('undo', 'Undo', 'Edit', 'back, revert'),
  trigger('redo', 'Redo', 'Edit', 'again'),
  trigger('save', 'Save', 'Edit', 'store, keep'),
  host({
    id: 'unsaved',
    label: 'Changed since the last save',
    category: 'Edit',
    kind: 'toggle',
    told: true,
    also: 'dirty, modified',
  }),
];
