import { surfaceSchema, type Control, type Pattern, type Surface } from '@rondo/core/surface';

/** A surface with nothing on it, to be given the controls that a test needs. */
export const GENERIC_SURFACE: Surface = surfaceSchema.parse({
  id: 'bare',
  name: 'Bare',
  about: '',
  width: 100,
  height: 100,
  controls: [],
});

/** A control that is its parts and nothing else. */
export const control = (
  id: string,
  kind: Control['kind'],
  sends: Control['sends'],
  takes: Control['takes'] = {},
): Control => ({ id, kind, label: id, x: 0, y: 0, width: 10, height: 10, sends, takes });

/** Note and controller patterns on channel 1. */
export const note = (number: number): Pattern => ({ type: 'note', channel: 1, number });
export const cc = (number: number): Pattern => ({ type: 'controller', channel: 1, number });
