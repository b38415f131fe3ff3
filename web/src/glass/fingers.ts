import { HAND_DEEDS } from '@rondo/core/wire';
import { inputsOf, mainPart, turns, type Control, type Surface } from '@rondo/core/surface';
import { isLying } from '../app/shared/panel/geometry';
import type { Habits } from './habits';

/** What a finger does to a control. */
export type Do = (control: Control, does: (typeof HAND_DEEDS)[number], value: number) => void;
/** A point of the panel, in millimetres. */
export interface Point {
  readonly x: number;
  readonly y: number;
}

/** How far a finger goes over a dial's whole travel, in millimetres of the panel, and for one tick. */
const DIAL_TRAVEL = 60;
const PER_TICK = 3;
const DEGREES_PER_TICK = 9;
/** Degrees over which a dial with two ends turns. */
const SWEEP = 270;
/** How far beside a control a finger still means it, in millimetres. */
const REACH = 6;
/** How far a finger may move that only presses, in millimetres. */
const STILL = 2.5;

/** One finger that has hold of something. */
interface Grip {
  readonly control: Control;
  /** What goes with it. */
  readonly also?: Control;
  move(point: Point): void;
  end(): void;
}

/** The control that a point means: the one it lies in, else the nearest within reach; the smallest of several. */
export function controlAt(surface: Surface, point: Point, reach = REACH): Control | undefined {
  let best: Control | undefined;
  let least = Infinity;
  for (const control of surface.controls) {
    if (inputsOf(surface, control).length === 0) continue;
    const { x, y, width, height } = control;
    const beside = Math.hypot(
      Math.max(x - point.x, 0, point.x - x - width),
      Math.max(y - point.y, 0, point.y - y - height),
    );
    if (beside > reach) continue;
    const rank = beside * 1e6 + width * height;
    if (rank >= least) continue;
    best = control;
    least = rank;
  }
  return best;
}

const clamp = (value: number): number => Math.max(0, Math.min(1, value));

/** How much a finger has turned about a middle, in degrees, the short way. */
function turnedBy(middle: Point, from: Point, to: Point): number {
  const at = (point: Point) => Math.atan2(point.y - middle.y, point.x - middle.x);
  const way = ((at(to) - at(from)) * 180) / Math.PI;
  return way > 180 ? way - 360 : way < -180 ? way + 360 : way;
}

/** Fingers on the panel: each has hold of its own control until it is lifted, or lost. */
export class Fingers {
  private readonly grips = new Map<number, Grip>();

  /**
   * @param habits how one likes to play
   * @param positionOf where a control stands, 0…1
   */
  constructor(
    private readonly surface: Surface,
    private readonly habits: () => Habits,
    private readonly positionOf: (control: Control) => number,
    private readonly act: Do,
  ) {}

  /** Controls that fingers have hold of now. */
  get held(): ReadonlySet<Control> {
    return new Set(
      [...this.grips.values()].flatMap(({ control, also }) => (also ? [control, also] : [control])),
    );
  }

  /** A finger comes down; the control that it has hold of now. */
  down(finger: number, point: Point): Control | null {
    this.up(finger);
    const control = controlAt(this.surface, point);
    if (!control) return null;
    this.grips.set(finger, this.grasp(control, point));
    return control;
  }

  move(finger: number, point: Point): void {
    this.grips.get(finger)?.move(point);
  }

  /** A finger is lifted, or the browser has taken it away. */
  up(finger: number): void {
    this.grips.get(finger)?.end();
    this.grips.delete(finger);
  }

  /** Everything is let go of. */
  upAll(): void {
    for (const finger of [...this.grips.keys()]) this.up(finger);
  }

  private grasp(control: Control, point: Point): Grip {
    if (mainPart(control.kind) === 'push') return this.press(control);
    if (turns(this.surface, control, 'value')) return this.turn(control, point);
    if (control.kind === 'list') return this.choose(control, point);
    if (control.kind === 'xyPad') return this.both(control, point);
    const isDial = control.kind === 'knob' || control.kind === 'encoder';
    return isDial ? this.dial(control, point) : this.slide(control, point);
  }

  private press(control: Control): Grip {
    this.act(control, 'press', 1);
    return { control, move: () => undefined, end: () => this.act(control, 'press', 0) };
  }

  /** What counts ticks; a finger that stays where it is has pressed it. */
  private turn(control: Control, from: Point): Grip {
    const middle = middleOf(control);
    const isRound = this.habits().dials === 'angle' || control.kind === 'jog';
    let last = from;
    let way = 0;
    let done = 0;
    let isStill = true;
    return {
      control,
      move: (point) => {
        if (Math.hypot(point.x - from.x, point.y - from.y) > STILL) isStill = false;
        way += isRound
          ? turnedBy(middle, last, point) / DEGREES_PER_TICK
          : (point.x - last.x + last.y - point.y) / PER_TICK;
        last = point;
        const ticks = Math.trunc(way);
        if (ticks === done) return;
        this.act(control, 'turn', ticks - done);
        done = ticks;
      },
      end: () => {
        if (!isStill || !control.sends.push) return;
        this.act(control, 'press', 1);
        this.act(control, 'press', 0);
      },
    };
  }

  private dial(control: Control, from: Point): Grip {
    const middle = middleOf(control);
    const isRound = this.habits().dials === 'angle';
    let last = from;
    let position = this.positionOf(control);
    this.act(control, 'touch', 1);
    return {
      control,
      move: (point) => {
        position = clamp(
          position +
            (isRound
              ? turnedBy(middle, last, point) / SWEEP
              : (point.x - last.x + last.y - point.y) / DIAL_TRAVEL),
        );
        last = point;
        this.act(control, 'move', position);
      },
      end: () => this.act(control, 'touch', 0),
    };
  }

  /** A line of a list: the one that the finger is lifted from. */
  private choose(control: Control, from: Point): Grip {
    const positions = control.positions ?? [0, 127];
    const lineAt = ({ y }: Point) => {
      const share = clamp((y - control.y) / control.height);
      return Math.min(positions.length - 1, Math.floor(share * positions.length));
    };
    const top = positions.at(-1) || 1;
    let last = -1;
    const put = (point: Point) => {
      const line = lineAt(point);
      if (line === last) return;
      last = line;
      this.act(control, 'move', positions[line] / top);
    };
    this.act(control, 'touch', 1);
    put(from);
    return { control, move: put, end: () => this.act(control, 'touch', 0) };
  }

  /** A pad with two ways: up is its own, across is another control's. */
  private both(control: Control, from: Point): Grip {
    const across = this.surface.controls.find(({ id }) => id === control.across);
    const put = ({ x, y }: Point) => {
      this.act(control, 'move', clamp(1 - (y - control.y) / control.height));
      if (across) this.act(across, 'move', clamp((x - control.x) / control.width));
    };
    this.act(control, 'touch', 1);
    if (across) this.act(across, 'touch', 1);
    put(from);
    return {
      control,
      ...(across ? { also: across } : {}),
      move: put,
      end: () => {
        this.act(control, 'touch', 0);
        if (across) this.act(across, 'touch', 0);
      },
    };
  }

  /** What has a place of its own along a line. */
  private slide(control: Control, from: Point): Grip {
    const { x, y, width, height } = control;
    const lies = isLying(control);
    const share = (point: Point) => (lies ? (point.x - x) / width : 1 - (point.y - y) / height);
    const start = this.positionOf(control);
    const jumps = this.habits().faders === 'jump' || control.kind === 'touchStrip';
    const offset = jumps ? 0 : start - share(from);
    this.act(control, 'touch', 1);
    if (jumps) this.act(control, 'move', clamp(share(from)));
    return {
      control,
      move: (point) => this.act(control, 'move', clamp(share(point) + offset)),
      end: () => this.act(control, 'touch', 0),
    };
  }
}

const middleOf = ({ x, y, width, height }: Control): Point => ({
  x: x + width / 2,
  y: y + height / 2,
});
