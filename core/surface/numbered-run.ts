import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import type { Pattern } from './pattern.js';
import type { Control, Surface } from './surface.js';
import { type Ids, round, freshId } from './layout.js';

/** How a numbered run goes on from its first control. */
export interface Run {
  /** How many controls there are in a row in the end, the first included. */
  readonly total: number;
  /** How many rows of them there are, and how far apart those stand, in millimetres across the run. */
  readonly rows: number;
  readonly apart: number;
  /** Place of the next one, in millimetres from the one before. */
  readonly dx: number;
  readonly dy: number;
  /** What counts up from one message to the next, and by how much. */
  readonly channelBy: number;
  readonly numberBy: number;
}

/** Most controls that one run makes, its first included. */
export const LONGEST_RUN = 128;

/** A label with its last number counted up; a number is added where there is none: “Knob 1” → “Knob 3”. */
export function countLabel(label: string, by: number): string {
  const found = /^(.*?)(\d+)(\D*)$/.exec(label);
  if (!found) return `${label} ${by + 1}`;
  const [, before, digits, after] = found;
  return before + String(Number(digits) + by).padStart(digits.length, '0') + after;
}

/** A pattern with its numbers counted up; null where one leaves its range (channels 1–16, numbers 0–127). */
function countPattern(pattern: Pattern, channelBy: number, numberBy: number): Pattern | null {
  const next = { ...pattern } as Record<string, unknown>;
  const top = pattern.type === 'nrpn' || pattern.type === 'rpn' ? 16_383 : 127;
  for (const key of ['number', 'lsb', 'up', 'down']) {
    const value = next[key];
    if (typeof value !== 'number') continue;
    next[key] = value + numberBy;
    if (value + numberBy < 0 || value + numberBy > top) return null;
  }
  if (pattern.type === 'stripMeter') {
    next['strip'] = pattern.strip + numberBy;
    if (pattern.strip + numberBy > 7 || pattern.strip + numberBy < 0) return null;
  }
  if ('channel' in pattern) {
    next['channel'] = pattern.channel + channelBy;
    if (pattern.channel + channelBy < 1 || pattern.channel + channelBy > 16) return null;
  }
  return next as Pattern;
}

function countPatterns<T extends string>(
  patterns: Partial<Record<T, Pattern>>,
  run: Run,
  step: number,
): Partial<Record<T, Pattern>> {
  const counted: Partial<Record<T, Pattern>> = {};
  for (const [part, pattern] of Object.entries(patterns) as [T, Pattern][]) {
    const next = countPattern(pattern, run.channelBy * step, run.numberBy * step);
    if (next) counted[part] = next;
  }
  return counted;
}

/** The controls that a run would make from one, its first not included. Messages beyond their range are left out. */
export function numberedRun(surface: Surface, control: Control, run: Run): Control[] {
  const taken = new Set(surface.controls.map(({ id }) => id));
  const across = Math.max(1, Math.trunc(run.total));
  const total = Math.min(LONGEST_RUN, across * Math.max(1, Math.trunc(run.rows)));
  const isLevel = Math.abs(run.dx) >= Math.abs(run.dy);
  return Array.from({ length: total - 1 }, (_, index) => {
    const step = index + 1;
    const [column, row] = [step % across, Math.floor(step / across)];
    const label = countLabel(control.label, step).slice(0, 40);
    const id = freshId(label, taken);
    taken.add(id);
    const { sheet: _asked, pages, ...rest } = control;
    return {
      ...rest,
      id,
      label,
      x: round(control.x + run.dx * column + (isLevel ? 0 : run.apart * row)),
      y: round(control.y + run.dy * column + (isLevel ? run.apart * row : 0)),
      // What stands below one another is of one strip.
      ...(control.strip === undefined
        ? {}
        : { strip: Math.min(63, control.strip + (isLevel ? column : row)) }),
      sends: countPatterns(control.sends, run, step),
      takes: countPatterns(control.takes, run, step),
      ...(pages
        ? {
            pages: Object.fromEntries(
              Object.entries(pages).map(([key, page]) => [
                key,
                {
                  ...page,
                  sends: countPatterns(page.sends, run, step),
                  takes: countPatterns(page.takes, run, step),
                },
              ]),
            ),
          }
        : {}),
    };
  });
}

/** How far a panel goes beyond the last control of a run, in millimetres. */
const EDGE = 8;
/** The largest panel, in millimetres. */
const LARGEST = 5_000;

/**
 * Makes a numbered run of each of some controls, in one row or several: labels and messages count up, and the panel
 * grows where it would not hold them.
 */
export function makeRun(surface: Surface, ids: Ids, run: Run): Edited<Surface> {
  const name = run.rows > 1 ? `Run of ${run.rows} × ${run.total}` : `Run of ${run.total}`;
  return edit(surface, name, (draft) => {
    const from = draft.controls.length;
    const grow = (size: number, ends: number[]) => {
      const last = Math.max(...ends);
      return last > size ? Math.min(LARGEST, Math.ceil(last + EDGE)) : size;
    };
    for (const id of ids) {
      const now = draft as unknown as Surface;
      const control = surface.controls.find((c) => c.id === id);
      if (control) draft.controls.push(...(numberedRun(now, control, run) as Draft<Control>[]));
    }
    const made = draft.controls.slice(from);
    draft.width = grow(
      draft.width,
      made.map(({ x, width }) => x + width),
    );
    draft.height = grow(
      draft.height,
      made.map(({ y, height }) => y + height),
    );
  });
}
