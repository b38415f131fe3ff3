import {
  inputsOf,
  isRelative,
  lightTarget,
  outputsOf,
  sendsOf,
  takesOf,
  type Control,
  type InputPart,
  type LightTarget,
  type OutputPart,
  type Pattern,
  type Surface,
} from '@rondo/core/surface';
import { hostModelSchema, type HostFunction, type HostModel } from './catalogue.js';
import { inTradeColour } from './trade-colours.js';

/** What the model of a program begins with that expects a surface; the ids of its units follow, joined by a plus. */
const AS = 'as:';
const JOIN = '+';

/** The model of a program that expects these surfaces, unit by unit. */
export const expectingId = (surfaces: readonly string[]): string => AS + surfaces.join(JOIN);

/** The surfaces that the program behind a model expects; null for any other model. */
export const expectedBy = (model: string): string[] | null =>
  model.startsWith(AS) ? model.slice(AS.length).split(JOIN) : null;

/** What of a control a program hears, sees or both, under one name. */
interface Role {
  readonly id: string;
  readonly label: string;
  readonly kind: HostFunction['kind'];
  readonly sends: InputPart | null;
  readonly takes: OutputPart | null;
  readonly taps?: true;
  readonly touch?: string;
}

const words = (text: string): string[] => text.split(/[^a-zA-Z0-9]+/).filter(Boolean);

/** The id of a function from a control's: `fader-master` is `faderMaster`. */
function nameOf(id: string): string {
  const [first = 'control', ...rest] = words(id);
  const name =
    first.charAt(0).toLowerCase() +
    first.slice(1) +
    rest.map((word) => word.charAt(0).toUpperCase() + word.slice(1)).join('');
  return /^[a-z]/.test(name) ? name : `control${name}`;
}

const withoutNumber = (text: string): string => text.replace(/[\s-]*\d+$/, '');

/** What a program means by the parts of a control. A strip's name, meter and the time have names that texts know. */
function rolesOf(surface: Surface, control: Control): Role[] {
  const inStrip = control.strip !== undefined;
  const stem = nameOf(inStrip ? withoutNumber(control.id) : control.id);
  const label = inStrip ? withoutNumber(control.label) : control.label;
  const ins = inputsOf(surface, control);
  const outs = outputsOf(surface, control);
  const sent = sendsOf(surface, control);
  const has = (part: OutputPart) => (outs.includes(part) ? part : null);
  const roles: Role[] = [];
  const value = ins.includes('value') && sent.value;
  if (value) {
    const touch = ins.includes('touch') ? `${stem}Touch` : null;
    roles.push({
      id: stem,
      label,
      kind: isRelative(value) ? 'nudge' : 'continuous',
      sends: 'value',
      takes: has('motor') ?? has('ring'),
      ...(touch ? { touch } : {}),
    });
    if (touch)
      roles.push({
        id: touch,
        label: `${label} touch`,
        kind: 'toggle',
        sends: 'touch',
        takes: null,
      });
  }
  if (ins.includes('push'))
    roles.push({
      id: value ? `${stem}Push` : stem,
      label: value ? `${label} press` : label,
      kind: 'toggle',
      sends: 'push',
      takes: has('light'),
      taps: true,
    });
  else if (has('light'))
    roles.push({
      id: `${stem}Light`,
      label: `${label} light`,
      kind: 'toggle',
      sends: null,
      takes: 'light',
    });
  if (ins.includes('pressure'))
    roles.push({
      id: `${stem}Pressure`,
      label: `${label} pressure`,
      kind: 'continuous',
      sends: 'pressure',
      takes: null,
    });
  const upper = takesOf(surface, control).upper;
  if (upper) {
    const id =
      upper.type === 'digits' && stem === 'counter' ? 'time' : inStrip ? 'name' : `${stem}Upper`;
    const line = upper.type === 'digits' ? label : `${label}, upper line`;
    roles.push({ id, label: line, kind: 'text', sends: null, takes: 'upper' });
  }
  if (has('lower'))
    roles.push({
      id: inStrip ? 'lower' : `${stem}Lower`,
      label: `${label}, lower line`,
      kind: 'text',
      sends: null,
      takes: 'lower',
    });
  if (has('meter'))
    roles.push({
      id: inStrip ? 'meter' : `${stem}Meter`,
      label: inStrip ? 'Level meter' : `${label} meter`,
      kind: 'meter',
      sends: null,
      takes: 'meter',
    });
  return roles;
}

const TRANSPORT = /^(play|stop|record|rewind|forward|loop|click|jog|marker|punch)/i;

const categoryOf = (control: Control, { kind, id }: Role): HostFunction['category'] => {
  if (control.strip !== undefined) return 'Strip';
  if (TRANSPORT.test(control.id)) return 'Transport';
  if (kind === 'text' || id === 'time') return 'View';
  return 'Actions';
};

/** Its light as the surface takes it: more than on or off only where the device can do more. */
function lampOf(surface: Surface, control: Control, report: Pattern | undefined) {
  const target: LightTarget | null = report ? lightTarget(surface, control, report) : null;
  if (!target) return {};
  if (target.kind !== 'onOff') return { lamp: target };
  return target.blink > 0 ? { blinkAt: target.blink } : {};
}

/** Strips that a surface has: one more than the highest number of any. */
const stripsOf = (surface: Surface): number =>
  surface.controls.reduce((most, { strip = -1 }) => Math.max(most, strip + 1), 0);

type Messages = HostFunction['messages'][number];

/** What a part of an expected surface's control is to the program: a function, and its strip, or −1. */
export interface ExpectedPart {
  readonly fn: string;
  readonly strip: number;
}
const expectedParts = new WeakMap<HostModel, ReadonlyMap<string, ExpectedPart>>();

/** The function behind a part of a control that a program expects, on one of its units from 0. */
export const expectedPart = (
  model: HostModel,
  unit: number,
  control: string,
  part: InputPart | OutputPart,
): ExpectedPart | undefined => expectedParts.get(model)?.get(`${unit}/${control}/${part}`);

/**
 * What a program can be told and tells that believes it has certain surfaces before it: one function for each part of
 * their controls, side by side where they stand in strips. So Rondo can stand in for any surface that is described.
 * @param units the main unit, and its extenders from left to right: these add strips and nothing else
 */
export function expecting(units: readonly Surface[]): HostModel {
  const [main] = units;
  const counts = units.map(stripsOf);
  const total = counts.reduce((sum, count) => sum + count, 0);
  const functions = new Map<string, HostFunction>();
  const parts = new Map<string, ExpectedPart>();
  const first = counts.map((_, unit) => counts.slice(0, unit).reduce((sum, n) => sum + n, 0));
  units.forEach((surface, unit) => {
    for (const control of surface.controls) {
      const { strip } = control;
      if (unit > 0 && strip === undefined) continue;
      for (const role of rolesOf(surface, control)) {
        const set = role.sends ? sendsOf(surface, control)[role.sends] : undefined;
        const report = role.takes ? takesOf(surface, control)[role.takes] : undefined;
        const messages: Messages = { ...(set ? { set } : {}), ...(report ? { report } : {}) };
        const at = strip === undefined ? -1 : first[unit] + strip;
        const keep = (fn: string) => {
          for (const part of [role.sends, role.takes])
            if (part) parts.set(`${unit}/${control.id}/${part}`, { fn, strip: at });
        };
        const known = functions.get(role.id);
        if (known && at >= 0 && known.per === 'strip' && known.messages[at] === null) {
          known.messages[at] = messages;
          keep(role.id);
          continue;
        }
        let id = role.id;
        for (let n = 2; functions.has(id); n++) id = `${role.id}${n}`;
        const list: HostFunction['messages'] =
          at < 0 ? [messages] : new Array<null>(total).fill(null);
        if (at >= 0) list[at] = messages;
        keep(id);
        functions.set(
          id,
          inTradeColour({
            id,
            label: role.label.slice(0, 40) || id,
            words: words(role.label.toLowerCase()),
            category: categoryOf(control, role),
            kind: role.kind,
            law:
              role.kind === 'meter' ? 'meter' : role.kind === 'continuous' ? 'percent' : 'switch',
            rest: 0,
            per: strip === undefined ? 'host' : 'strip',
            messages: list,
            ...(role.taps ? { taps: true, flips: true } : {}),
            ...(role.touch ? { touch: role.touch } : {}),
            ...(role.takes === 'light' ? lampOf(surface, control, report) : {}),
          } satisfies HostFunction),
        );
      }
    }
  });
  const model = hostModelSchema.parse({
    id: expectingId(units.map(({ id }) => id)),
    name: `Program that expects ${main.name}`,
    about: `A program that knows only ${units.map(({ name }) => name).join(' and ')}.`,
    strips: Array.from({ length: total }, (_, i) => ({ name: `Strip ${i + 1}`, group: 'track' })),
    units: counts,
    expects: units.map(({ id }) => id),
    ...(main.device.desk ? { desk: true } : {}),
    tells: 'changes',
    bytesPerSecond: main.device.bytesPerSecond,
    functions: [...functions.values()],
  });
  expectedParts.set(model, parts);
  return model;
}

const made = new WeakMap<
  Surface,
  { readonly units: readonly Surface[]; readonly model: HostModel }[]
>();

/** The same, made once for the same surfaces. */
export function expectingOnce(units: readonly Surface[]): HostModel {
  const known = made.get(units[0]) ?? [];
  const found = known.find(
    ({ units: others }) => others.length === units.length && others.every((s, i) => s === units[i]),
  );
  if (found) return found.model;
  const model = expecting(units);
  made.set(units[0], [...known, { units, model }]);
  return model;
}
