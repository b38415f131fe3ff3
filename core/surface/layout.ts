import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import type { ControlKind } from './kinds.js';
import type { Control, InputPart, Surface } from './surface.js';

/*
 * Edits of a surface. Each is named and can be taken back; ids that are not there are passed over.
 */

export type Ids = readonly string[];

const count = (ids: Ids): string => (ids.length === 1 ? 'a control' : `${ids.length} controls`);

function each(draft: Draft<Surface>, ids: Ids, change: (control: Draft<Control>) => void): void {
  const wanted = new Set(ids);
  for (const control of draft.controls) if (wanted.has(control.id)) change(control);
}

export const round = (millimetres: number): number => Math.round(millimetres * 100) / 100;

/** Changes any fields of the surface itself. */
export const changeSurface = (
  surface: Surface,
  name: string,
  change: (draft: Draft<Surface>) => void,
): Edited<Surface> => edit(surface, name, change);

/** Changes any fields of some controls. */
export const changeControls = (
  surface: Surface,
  name: string,
  ids: Ids,
  change: (control: Draft<Control>) => void,
): Edited<Surface> => edit(surface, name, (draft) => each(draft, ids, change));

/** Moves controls by some millimetres. */
export const moveBy = (surface: Surface, ids: Ids, dx: number, dy: number): Edited<Surface> =>
  changeControls(surface, `Move ${count(ids)}`, ids, (control) => {
    control.x = round(control.x + dx);
    control.y = round(control.y + dy);
  });

/** Makes controls larger or smaller by some millimetres; none gets smaller than `least`. */
export const resizeBy = (
  surface: Surface,
  ids: Ids,
  dx: number,
  dy: number,
  least = 4,
): Edited<Surface> =>
  changeControls(surface, `Resize ${count(ids)}`, ids, (control) => {
    control.width = round(Math.max(least, control.width + dx));
    control.height = round(Math.max(least, control.height + dy));
  });

export const EDGES = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
export type Edge = (typeof EDGES)[number];

/** Lines controls up: at an edge of the box around all of them, or along its middle. */
export function align(surface: Surface, ids: Ids, edge: Edge): Edited<Surface> {
  const list = surface.controls.filter((control) => ids.includes(control.id));
  if (list.length < 2) return { document: surface, edit: null };
  const left = Math.min(...list.map((c) => c.x));
  const right = Math.max(...list.map((c) => c.x + c.width));
  const top = Math.min(...list.map((c) => c.y));
  const bottom = Math.max(...list.map((c) => c.y + c.height));
  return changeControls(surface, `Align ${count(ids)}`, ids, (control) => {
    if (edge === 'left') control.x = left;
    else if (edge === 'right') control.x = round(right - control.width);
    else if (edge === 'centre') control.x = round((left + right - control.width) / 2);
    else if (edge === 'top') control.y = top;
    else if (edge === 'bottom') control.y = round(bottom - control.height);
    else control.y = round((top + bottom - control.height) / 2);
  });
}

/** Spreads controls so that the gaps between them are equal, or, where they overlap, their steps; the outermost stay. */
export function distribute(surface: Surface, ids: Ids, along: 'x' | 'y'): Edited<Surface> {
  const size = along === 'x' ? 'width' : 'height';
  const list = surface.controls
    .filter((control) => ids.includes(control.id))
    .sort((a, b) => a[along] - b[along]);
  if (list.length < 3) return { document: surface, edit: null };
  const first = list[0];
  const last = list[list.length - 1];
  const inner = list.slice(1, -1);
  const room = last[along] - (first[along] + first[size]);
  const gap = (room - inner.reduce((sum, control) => sum + control[size], 0)) / (list.length - 1);
  const places = new Map<string, number>();
  // Where they overlap anyway there is no gap: what is wide would throw the others past the outermost.
  const step = (last[along] - first[along]) / (list.length - 1);
  let at = first[along] + first[size];
  inner.forEach((control, i) => {
    at += gap;
    places.set(control.id, round(gap < 0 ? first[along] + step * (i + 1) : at));
    at += control[size];
  });
  return changeControls(surface, `Distribute ${count(ids)}`, [...places.keys()], (control) => {
    control[along] = places.get(control.id) as number;
  });
}

/** An id made from a label that no control has yet: “Fader 3” → fader-3. */
export function freshId(label: string, taken: ReadonlySet<string>): string {
  const plain =
    label
      .normalize('NFD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 50) || 'control';
  if (!taken.has(plain)) return plain;
  let n = 2;
  while (taken.has(`${plain}-${n}`)) n++;
  return `${plain}-${n}`;
}

/** Usual sizes in millimetres. */
export const USUAL_SIZES: Readonly<Record<ControlKind, readonly [width: number, height: number]>> =
  {
    fader: [20, 70],
    knob: [20, 20],
    encoder: [20, 20],
    button: [15, 10],
    pad: [25, 25],
    key: [15, 70],
    pedal: [40, 30],
    expression: [45, 80],
    switch: [15, 20],
    wheel: [15, 50],
    touchStrip: [15, 80],
    jog: [60, 60],
    display: [60, 20],
    xyPad: [80, 80],
    list: [40, 60],
    label: [80, 20],
  };

/** A label that no control has yet: “Fader 1”, “Fader 2” … */
function freshLabel(surface: Surface, stem: string): string {
  const labels = new Set(surface.controls.map((control) => control.label));
  let n = 1;
  while (labels.has(`${stem} ${n}`)) n++;
  return `${stem} ${n}`;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Puts a new control on the panel. Its id is the last one of the document's controls. */
export function place(
  surface: Surface,
  kind: ControlKind,
  stem: string,
  x: number,
  y: number,
): Edited<Surface> {
  const label = freshLabel(surface, capital(stem));
  const [width, height] = USUAL_SIZES[kind];
  const id = freshId(label, new Set(surface.controls.map((control) => control.id)));
  const nothing = { sends: {}, takes: {} };
  return edit(surface, `Place ${label}`, (draft) => {
    if (kind !== 'xyPad') {
      draft.controls.push({ id, kind, label, x, y, width, height, ...nothing });
      return;
    }
    // A pad goes with the finger's way up; beside it stands what goes with its way across.
    const across = freshId(`${id}-across`, new Set(surface.controls.map((control) => control.id)));
    draft.controls.push(
      {
        id: across,
        kind: 'touchStrip',
        label: `${label}, across`,
        x,
        y: y + height + 4,
        width,
        height: 12,
        ...nothing,
      },
      { id, kind, label, x, y, width, height, across, ...nothing },
    );
  });
}

export const remove = (surface: Surface, ids: Ids): Edited<Surface> =>
  edit(surface, `Delete ${count(ids)}`, (draft) => {
    draft.controls = draft.controls.filter((control) => !ids.includes(control.id));
  });

/** Names made from a pattern: # counts 1, 2, 3 …, ## counts 01, 02 …; without # a number follows. */
export function namesFrom(pattern: string, total: number, from = 1): string[] {
  const text = pattern.includes('#') || total === 1 ? pattern : `${pattern} #`;
  return Array.from({ length: total }, (_, index) =>
    text.replace(/#+/, (marks) => String(from + index).padStart(marks.length, '0')).slice(0, 40),
  );
}

/** Renames several controls by a pattern, row by row from the top left. */
export function renameAll(surface: Surface, ids: Ids, pattern: string, from = 1): Edited<Surface> {
  const order = surface.controls
    .filter((control) => ids.includes(control.id))
    .sort((a, b) => (Math.abs(a.y - b.y) < 5 ? a.x - b.x : a.y - b.y))
    .map(({ id }) => id);
  const names = namesFrom(pattern, order.length, from);
  return changeControls(surface, `Rename ${count(ids)}`, order, (control) => {
    control.label = names[order.indexOf(control.id)];
  });
}

/** Turns an encoder round: what counted up counts down. Does nothing to what does not count. */
export const reverse = (surface: Surface, id: string, part: InputPart = 'value'): Edited<Surface> =>
  changeControls(surface, 'Reverse an encoder', [id], (control) => {
    const all = [control.sends, ...Object.values(control.pages ?? {}).map((page) => page.sends)];
    for (const sends of all) {
      const pattern = sends[part];
      if (pattern?.type === 'relative' || pattern?.type === 'upDown')
        pattern.reversed = !pattern.reversed;
    }
  });
