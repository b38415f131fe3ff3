import type { Curve, Shape } from '@rondo/core/profile';

const clamp01 = (value: number): number => (value > 0 ? (value < 1 ? value : 1) : 0);

const enum Bend {
  Straight,
  Exponential,
  S,
  Drawn,
}

const enum ZoneDoes {
  Value,
  Range,
  Nothing,
}

/** Places that the search of an inverse works in; From, Middle and To stand in a row. */
const enum Search {
  Wanted,
  Best,
  Distance,
  From,
  Middle,
  To,
  Shaped,
  /** What the shape makes of the best place, and a place where the flat around it ends. */
  Flat,
  Edge,
  Other,
  Width,
}

/** Halvings of a search: finer than 14 bits. */
const HALVINGS = 24;
const PIECES = 64;
/** A bend so small is none. */
const STRAIGHT = 1e-3;

/** What a shaper writes where nothing is to be told to the host. */
export const NOTHING = -1;

/**
 * A shape made ready to run: where a control stands, 0…1, to what its function is told. In the order dead band; zones,
 * or curve, direction, range, steps. Every part is monotone, so the whole is, but for zones.
 */
export class Shaper {
  /** Value at the low and at the high end of the travel. */
  readonly low: number;
  readonly high: number;
  /** Numbers of the document that lay outside 0…1 and were clamped. */
  readonly clamped: number;
  readonly invert: boolean;
  private readonly bend: Bend;
  private readonly amount: number;
  private readonly scale: number;
  private readonly xs: Float64Array;
  private readonly ys: Float64Array;
  private readonly deadMiddle: number;
  private readonly deadEnds: number;
  private readonly steps: number;
  private readonly zoneEnds: Float64Array;
  private readonly zoneDoes: Uint8Array;
  private readonly zoneLow: Float64Array;
  private readonly zoneHigh: Float64Array;
  private readonly corners: Float64Array;
  private readonly register = new Float64Array(1);
  private readonly working = new Float64Array(Search.Width);

  constructor(readonly shape: Shape) {
    let clamped = 0;
    const share = (value: number): number => {
      const inside = clamp01(value);
      if (inside !== value) clamped++;
      return inside;
    };
    this.invert = shape.invert ?? false;
    this.low = share(shape.low ?? 0);
    this.high = share(shape.high ?? 1);
    const curve: Curve = shape.curve ?? { kind: 'linear' };
    const bent =
      (curve.kind === 'exponential' || curve.kind === 's') && Math.abs(curve.bend) > STRAIGHT;
    this.bend =
      curve.kind === 'drawn'
        ? Bend.Drawn
        : !bent
          ? Bend.Straight
          : curve.kind === 's'
            ? Bend.S
            : Bend.Exponential;
    this.amount = bent ? (curve as { bend: number }).bend : 0;
    this.scale = bent ? 1 / Math.expm1(this.amount) : 0;
    const points =
      curve.kind === 'drawn'
        ? curve.points
            .map((point) => ({ x: share(point.x), y: share(point.y) }))
            .sort((a, b) => a.x - b.x)
        : [];
    this.xs = Float64Array.from(points, ({ x }) => x);
    this.ys = Float64Array.from(points, ({ y }) => y);
    this.deadMiddle = shape.deadMiddle ?? 0;
    this.deadEnds = shape.deadEnds ?? 0;
    this.steps = shape.steps ?? 0;
    const zones = shape.zones ?? [];
    let end = 0;
    this.zoneEnds = Float64Array.from(zones, (zone, i) => {
      // No gap and no overlap: a zone starts where the one before ends, and the last goes to the end of the travel.
      end = i === zones.length - 1 ? 1 : Math.max(end, share(zone.upTo));
      return end;
    });
    this.zoneDoes = Uint8Array.from(
      zones,
      ({ does }) =>
        ({ value: ZoneDoes.Value, range: ZoneDoes.Range, nothing: ZoneDoes.Nothing })[does],
    );
    this.zoneLow = Float64Array.from(zones, (zone) =>
      zone.does === 'value' ? share(zone.value) : zone.does === 'range' ? share(zone.low) : 0,
    );
    this.zoneHigh = Float64Array.from(zones, (zone, i) =>
      zone.does === 'range' ? share(zone.high) : this.zoneLow[i],
    );
    this.clamped = clamped;
    this.corners = this.findCorners();
  }

  /** Where the shape may turn, as places of the control: between two of them it is monotone. */
  private findCorners(): Float64Array {
    const inside: number[] = [];
    let from = 0;
    for (const end of this.zoneEnds.length > 0 ? this.zoneEnds : [1]) {
      inside.push(end);
      for (const x of this.xs) inside.push(from + x * (end - from));
      from = end;
    }
    const flips = this.zoneEnds.length > 0 && this.invert;
    const places = inside.map((x) => this.placeOf(flips ? 1 - x : x));
    const half = this.deadMiddle / 2;
    const pieces = Array.from({ length: PIECES + 1 }, (_, piece) => piece / PIECES);
    const all = [...pieces, ...places, 0.5 - half, 0.5 + half, this.deadEnds, 1 - this.deadEnds];
    return Float64Array.from(new Set(all.map(clamp01))).sort();
  }

  /** The place of a control that its dead zones make a value of. */
  private placeOf(x: number): number {
    const half = this.deadMiddle / 2;
    const room = 0.5 - half;
    const there = x < 0.5 ? (x * room) / 0.5 : x > 0.5 ? 1 - ((1 - x) * room) / 0.5 : 0.5;
    return this.deadEnds + there * (1 - 2 * this.deadEnds);
  }

  get hasZones(): boolean {
    return this.zoneEnds.length > 0;
  }

  /** Whether what goes in comes out. */
  get isPlain(): boolean {
    return (
      !this.hasZones &&
      !this.invert &&
      this.low === 0 &&
      this.high === 1 &&
      this.bend === Bend.Straight &&
      this.deadMiddle === 0 &&
      this.deadEnds === 0 &&
      this.steps === 0
    );
  }

  /** The value at a position, 0…1; {@link NOTHING} where nothing is to be told. */
  at(position: number): number {
    this.register[0] = position;
    this.apply(this.register, 0);
    return this.register[0];
  }

  /** Shapes the number at a place of a register in that place: doubles as arguments would be put on the heap. */
  apply(register: Float64Array, place: number): void {
    let x = clamp01(register[place]);
    if (this.deadEnds > 0) {
      const room = 1 - 2 * this.deadEnds;
      x = clamp01((x - this.deadEnds) / room);
    }
    if (this.deadMiddle > 0) {
      const half = this.deadMiddle / 2;
      const room = 0.5 - half;
      if (x < room) x = (0.5 * x) / room;
      else if (x > 1 - room) x = 1 - (0.5 * (1 - x)) / room;
      else x = 0.5;
    }
    register[place] = x;
    if (this.zoneEnds.length > 0) this.inZones(register, place);
    else {
      this.bent(register, place);
      const y = this.invert ? 1 - register[place] : register[place];
      const stepped = this.steps > 1 ? Math.round(y * (this.steps - 1)) / (this.steps - 1) : y;
      // Written so that both ends are met to the bit.
      register[place] =
        stepped <= 0
          ? this.low
          : stepped >= 1
            ? this.high
            : this.low + stepped * (this.high - this.low);
    }
  }

  private inZones(register: Float64Array, place: number): void {
    const x = this.invert ? 1 - register[place] : register[place];
    let zone = 0;
    const last = this.zoneEnds.length - 1;
    while (zone < last && x >= this.zoneEnds[zone]) zone++;
    const low = this.zoneLow[zone];
    switch (this.zoneDoes[zone]) {
      case ZoneDoes.Value:
        register[place] = low;
        return;
      case ZoneDoes.Nothing:
        register[place] = NOTHING;
        return;
      default: {
        const from = zone === 0 ? 0 : this.zoneEnds[zone - 1];
        const width = this.zoneEnds[zone] - from;
        register[place] = width > 0 ? x - from : 0;
        if (width > 0) register[place] /= width;
        this.bent(register, place);
        register[place] = low + register[place] * (this.zoneHigh[zone] - low);
      }
    }
  }

  private bent(register: Float64Array, place: number): void {
    const x = register[place];
    // The end is met to the bit.
    if (x >= 1 && this.bend !== Bend.Drawn) return;
    switch (this.bend) {
      case Bend.Exponential:
        register[place] = Math.expm1(this.amount * x) * this.scale;
        return;
      case Bend.S: {
        // Two exponential halves, back to back.
        const half = x < 0.5 ? 2 * x : 2 - 2 * x;
        const y = (Math.expm1(this.amount * half) * this.scale) / 2;
        register[place] = x < 0.5 ? y : 1 - y;
        return;
      }
      case Bend.Drawn: {
        const { xs, ys } = this;
        const last = xs.length - 1;
        let i = 0;
        while (i < last && xs[i + 1] < x) i++;
        if (x <= xs[0]) register[place] = ys[0];
        else if (i === last) register[place] = ys[last];
        else {
          const width = xs[i + 1] - xs[i];
          const share = width > 0 ? (x - xs[i]) / width : 1;
          register[place] = ys[i] + share * (ys[i + 1] - ys[i]);
        }
        return;
      }
      default:
    }
  }

  /** Where the control stands when the function has a value: what a motor is sent to. Nearest where there is no such. */
  inverse(value: number): number {
    this.register[0] = value;
    this.invertAt(this.register, 0);
    return this.register[0];
  }

  /** The same for the number at a place of a register, in that place. */
  invertAt(register: Float64Array, place: number): void {
    if (this.isPlain) {
      register[place] = clamp01(register[place]);
      return;
    }
    const w = this.working;
    w[Search.Wanted] = register[place];
    w[Search.Best] = 0;
    w[Search.Distance] = Infinity;
    const { corners } = this;
    for (let piece = 1; piece < corners.length; piece++) {
      w[Search.From] = corners[piece - 1];
      w[Search.To] = corners[piece];
      const a = this.off(Search.From);
      const b = this.off(Search.To);
      if (a !== a || b !== b) continue;
      const inside = a * b <= 0 && a !== b;
      for (let n = 0; inside && n < HALVINGS; n++) {
        w[Search.Middle] = (w[Search.From] + w[Search.To]) / 2;
        if (this.off(Search.Middle) * a > 0) w[Search.From] = w[Search.Middle];
        else w[Search.To] = w[Search.Middle];
      }
      w[Search.Middle] = (w[Search.From] + w[Search.To]) / 2;
      for (let at: number = Search.From; at <= Search.To; at++) {
        const off = Math.abs(this.off(at));
        if (!(off < w[Search.Distance] - 1e-9)) continue;
        w[Search.Distance] = off;
        w[Search.Best] = w[at];
      }
    }
    this.settle();
    register[place] = w[Search.Best];
  }

  /** Of all places that give the same the middle is the best; of those that go to an end of the travel, that end. */
  private settle(): void {
    const w = this.working;
    w[Search.Flat] = w[Search.Best];
    this.apply(w, Search.Flat);
    this.findEdge(1);
    w[Search.Other] = w[Search.Edge];
    this.findEdge(-1);
    const isOpen = w[Search.Edge] > 0 && w[Search.Other] < 1;
    if (isOpen) w[Search.Best] = (w[Search.Edge] + w[Search.Other]) / 2;
    else if (w[Search.Edge] > 0) w[Search.Best] = 1;
    else if (w[Search.Other] < 1) w[Search.Best] = 0;
  }

  /** Finds where what gives the same as the best place ends, up or down from there. */
  private findEdge(way: 1 | -1): void {
    const { corners, working: w } = this;
    w[Search.Edge] = w[Search.Best];
    for (let at = way > 0 ? 0 : corners.length - 1; at >= 0 && at < corners.length; at += way) {
      if ((corners[at] - w[Search.Edge]) * way <= 0) continue;
      w[Search.To] = corners[at];
      if (this.isFlat(Search.To)) {
        w[Search.Edge] = w[Search.To];
        continue;
      }
      for (let n = 0; n < HALVINGS; n++) {
        w[Search.Middle] = (w[Search.Edge] + w[Search.To]) / 2;
        if (this.isFlat(Search.Middle)) w[Search.Edge] = w[Search.Middle];
        else w[Search.To] = w[Search.Middle];
      }
      return;
    }
  }

  private isFlat(at: number): boolean {
    const w = this.working;
    w[Search.Shaped] = w[at];
    this.apply(w, Search.Shaped);
    return Math.abs(w[Search.Shaped] - w[Search.Flat]) <= 1e-9;
  }

  /** How far the shape of the number at a working place is from what is wanted; NaN where nothing is told there. */
  private off(at: number): number {
    const w = this.working;
    w[Search.Shaped] = w[at];
    this.apply(w, Search.Shaped);
    return w[Search.Shaped] === NOTHING ? NaN : w[Search.Shaped] - w[Search.Wanted];
  }
}

const plain = new Shaper({});
const made = new WeakMap<Shape, Shaper>();

/** How wide the middle of a control with a click there is, so that the numbers 63 and 64 of 127 both lie in it. */
const CLICK = 2 / 127;

const clicking = new WeakMap<Shape, Shape>();

/** The shape of a control that clicks in the middle: where it is parted in two there, both are at rest while it clicks. */
export function shapeWithClick(shape: Shape | undefined): Shape | undefined {
  if (!shape?.zones || shape.zones.length < 2 || (shape.deadMiddle ?? 0) >= CLICK) return shape;
  const known = clicking.get(shape);
  if (known) return known;
  const made = { ...shape, deadMiddle: CLICK };
  clicking.set(shape, made);
  return made;
}

/** The shaper of a shape; the same one for the same shape. */
export function shaperOf(shape: Shape | undefined): Shaper {
  if (!shape) return plain;
  const known = made.get(shape);
  if (known) return known;
  const shaper = new Shaper(shape);
  made.set(shape, shaper);
  return shaper;
}
