import {
  LIGHT_STATES,
  MOTIONS,
  glowOf,
  heldField,
  lightWire,
  mixColours,
  shownColour,
  type Glow,
  type LightTarget,
  type Motion,
  type ReturnLevels,
} from '@rondo/core/surface';

/** States of a light, as the engine tells them apart: in the order of {@link LIGHT_STATES}. */
export const enum LightState {
  Off,
  On,
  Waiting,
  Armed,
  Unavailable,
  Assumed,
}

/** Motions, in the order of {@link MOTIONS}. */
export const enum LightMotion {
  Steady,
  Blink,
  Pulse,
  Beat,
  Bar,
}

/** Steps of brightness in a pulse. */
export const PULSE_STEPS = 8;
const BLEND_STEPS = 128;
/** Numbers of another device's lamps that are kept translated. */
const MOST_TOLD = 4_096;

/** A look made ready: what goes over the wire at each step of its brightness, the last one in full. */
export interface Shine {
  readonly motion: LightMotion;
  readonly wires: Int32Array;
}

const isDark = (glow: Glow): boolean =>
  glow.number === undefined && ((glow.brightness ?? 1) <= 0 || glow.colour === '#000000');

function shineOf(glow: Glow, target: LightTarget): Shine {
  const { colour = '#000000', brightness = 1, motion = 'steady', number } = glow;
  const wires = new Int32Array(PULSE_STEPS + 1);
  // What blinks in the device itself costs one message and no more.
  if (motion === 'blink' && target.kind === 'onOff' && target.blink > 0 && !isDark(glow))
    return { motion: LightMotion.Steady, wires: wires.fill(target.blink) };
  for (let step = 0; step <= PULSE_STEPS; step++)
    wires[step] =
      number !== undefined && step * 2 > PULSE_STEPS
        ? number
        : lightWire(target, colour, (brightness * step) / PULSE_STEPS);
  return {
    motion: isDark(glow) ? LightMotion.Steady : (MOTIONS.indexOf(motion as Motion) as LightMotion),
    wires,
  };
}

/** How one kind of light shows one kind of state, worked out once for all that share it. */
export class LightRule {
  readonly by: 'state' | 'bands' | 'gradient' | 'told';
  readonly invert: boolean;
  readonly states: readonly Shine[];
  readonly bandEnds: Float64Array;
  readonly bands: readonly Shine[];
  private readonly blends: Int32Array;

  private readonly told = new Map<LightTarget, Map<number, number>>();

  constructor(
    levels: ReturnLevels,
    private readonly target: LightTarget,
  ) {
    this.by = heldField('by', levels).value;
    this.invert = heldField('invert', levels).value;
    this.states = LIGHT_STATES.map((state) => shineOf(glowOf(state, levels), target));
    const bands = heldField('bands', levels).value;
    const on = glowOf('on', levels);
    this.bandEnds = Float64Array.from(bands, ({ upTo }) => upTo);
    this.bands = bands.map((band) => shineOf({ ...on, number: undefined, ...band }, target));
    this.blends = new Int32Array(BLEND_STEPS);
    if (this.by !== 'gradient') return;
    const low = glowOf('low', levels);
    const high = glowOf('high', levels);
    const of = (a: number | undefined, b: number | undefined, way: number) =>
      (a ?? 1) + ((b ?? 1) - (a ?? 1)) * way;
    for (let step = 0; step < BLEND_STEPS; step++) {
      const way = step / (BLEND_STEPS - 1);
      const colour = mixColours(low.colour ?? '#000000', high.colour ?? '#000000', way);
      // Dark is no colour: from dark to a colour only the brightness goes.
      const shown = isDark(low) ? high.colour : isDark(high) ? low.colour : colour;
      const brightness = of(
        isDark(low) ? 0 : low.brightness,
        isDark(high) ? 0 : high.brightness,
        way,
      );
      this.blends[step] = lightWire(target, shown ?? colour, brightness);
    }
  }

  /** The look of the band that a value lies in. */
  bandAt(values: Float64Array, at: number): Shine {
    const last = this.bands.length - 1;
    let band = 0;
    while (band < last && values[at] > this.bandEnds[band]) band++;
    return this.bands[band] ?? this.states[LightState.On];
  }

  /**
   * What goes over the wire for a lamp that a host has told as another device takes it: the colour that the number has
   * there, as near as there is one here.
   */
  toldAs(lamp: LightTarget, number: number): number {
    let known = this.told.get(lamp);
    if (!known) this.told.set(lamp, (known = new Map<number, number>()));
    let wire = known.get(number);
    if (wire === undefined) {
      const colour = shownColour(lamp, number);
      wire = lightWire(this.target, colour ?? '#000000', colour === null ? 0 : 1);
      if (known.size >= MOST_TOLD) known.clear();
      known.set(number, wire);
    }
    return wire;
  }

  /** What goes over the wire for a value between the two ends. */
  blendAt(values: Float64Array, at: number): number {
    const value = values[at];
    const step = Math.round((value < 0 ? 0 : value > 1 ? 1 : value) * (BLEND_STEPS - 1));
    return this.blends[step];
  }
}
