import type { Control, InputPart, OutputPart } from '@rondo/core/surface';
import { type OutPlan, type ShownHere, Shows, type Source } from './out-plan.js';
import { keysOf, type SurfaceParts } from './surfaces.js';

const SHOWS: Readonly<Record<OutputPart, Shows>> = {
  motor: Shows.Motor,
  light: Shows.Light,
  ring: Shows.Ring,
  upper: Shows.Text,
  lower: Shows.Text,
  meter: Shows.Meter,
};

const NO_SHOWINGS: readonly ShownHere[] = [];

interface Strip {
  readonly fader?: string;
  readonly encoder?: string;
}

/** What an output shows, from the parts of its own control, or of its strip. */
function sourcesOf(
  part: OutputPart,
  control: Control,
  strip: Strip | undefined,
  at: (controlId: string | undefined, input: InputPart) => number | undefined,
): Source[] {
  const source = (index: number | undefined, pick: Source['pick']): Source[] =>
    index === undefined ? [] : [{ part: index, pick }];
  if (part === 'motor' || part === 'ring') return source(at(control.id, 'value'), 'own');
  if (part === 'light') return source(at(control.id, 'push'), 'own');
  if (!strip) return [];
  const fader = at(strip.fader, 'value');
  const encoder = at(strip.encoder, 'value');
  if (part === 'lower') {
    const turned = source(encoder, 'own');
    const moved = source(fader, 'own');
    return turned.length > 0 ? [...turned, ...moved] : [...moved, ...moved];
  }
  return source(fader ?? encoder, part === 'upper' ? 'name' : 'meter');
}

function stripsOf({ surfaces }: SurfaceParts): Map<string, Strip> {
  const strips = new Map<string, Strip>();
  for (const { id, surface } of surfaces)
    for (const control of surface.controls) {
      if (control.strip === undefined) continue;
      if (control.kind !== 'fader' && control.kind !== 'encoder') continue;
      const key = `${id}/${control.strip}`;
      strips.set(key, { [control.kind]: control.id, ...strips.get(key) });
    }
  return strips;
}

/** Makes the output parts ready, each with what it shows. */
export function outPlans(
  parts: SurfaceParts,
  candidates: ReadonlyMap<number, unknown>,
  shownAt: ReadonlyMap<number, readonly ShownHere[]>,
): OutPlan[] {
  const strips = stripsOf(parts);
  const outs: OutPlan[] = [];
  for (const { id, link, firstOut, wiring } of parts.surfaces) {
    const keys = keysOf(wiring, id).outs;
    const at = (controlId: string | undefined, input: InputPart): number | undefined => {
      const found = controlId === undefined ? undefined : parts.partAt(id, controlId, input);
      return found !== undefined && candidates.has(found) ? found : undefined;
    };
    wiring.outs.forEach(({ control, part, patterns }, local) => {
      const takes = patterns.find((pattern) => pattern !== undefined);
      outs.push({
        key: keys[local],
        link,
        local,
        control,
        part,
        patterns,
        shows: SHOWS[part],
        falls: takes?.type === 'stripMeter',
        mover: part === 'motor' ? (parts.partAt(id, control.id, 'value') ?? -1) : -1,
        sources: sourcesOf(part, control, strips.get(`${id}/${control.strip ?? ''}`), at),
        isStripless: control.takes[part]?.type === 'text' && control.strip === undefined,
        showings: shownAt.get(firstOut + local) ?? NO_SHOWINGS,
      });
    });
  }
  return outs;
}
