import { pagesOf, sendsOf, type Control, type Surface } from './surface.js';

/** Notes from one to another, 0–127, both among them, on a channel, 1–16. */
export interface PlayedNotes {
  readonly channel: number;
  readonly from: number;
  readonly to: number;
}

/** Every note that a control sends as it is pressed, on any of its surface’s pages. */
const notesOf = (surface: Surface, control: Control): { channel: number; number: number }[] =>
  pagesOf(surface).flatMap((page) => {
    const { push } = sendsOf(surface, control, page);
    return push?.type === 'note' ? [push] : [];
  });

/** The notes of a surface's keys, the lowest first, in ranges that hold no note of any other of its controls. */
export function notesOfKeys(surface: Surface): PlayedNotes[] {
  const keys = new Map<number, Set<number>>();
  const others = new Map<number, Set<number>>();
  for (const control of surface.controls)
    for (const { channel, number } of notesOf(surface, control)) {
      const all = control.kind === 'key' ? keys : others;
      all.set(channel, (all.get(channel) ?? new Set()).add(number));
    }
  return [...keys].flatMap(([channel, notes]) => {
    const ranges: { channel: number; from: number; to: number }[] = [];
    const isOther = (number: number) => others.get(channel)?.has(number) ?? false;
    for (const number of [...notes].sort((a, b) => a - b)) {
      if (isOther(number)) continue;
      const last = ranges.at(-1);
      const between = last ? number - last.to - 1 : 0;
      const isParted = Array.from({ length: between }, (_, n) => number - 1 - n).some(isOther);
      if (last && !isParted) last.to = number;
      else ranges.push({ channel, from: number, to: number });
    }
    return ranges;
  });
}

/** Controls other than keys whose notes would be played, so that they fire no command. */
export const playedWithKeys = (
  surface: Surface,
  ranges: readonly { channel: number | null; from: number; to: number }[],
): Control[] =>
  surface.controls.filter(
    (control) =>
      control.kind !== 'key' &&
      notesOf(surface, control).some(({ channel, number }) =>
        ranges.some(
          (range) =>
            (range.channel === null || range.channel === channel) &&
            number >= range.from &&
            number <= range.to,
        ),
      ),
  );
