import { computed, type Signal } from '@angular/core';
import type { Action } from '@rondo/core/profile';
import {
  inputsOf,
  mainPart,
  turns,
  type Control,
  type InputPart,
  type Surface,
} from '@rondo/core/surface';
import {
  fitName,
  fitShort,
  fitText,
  inLayers,
  isLying,
  moverAt,
  unitOf,
} from '../../../shared/panel/geometry';
import type { Names } from '../names';
import type { Stack } from '../round/stack';

const LETTER = 7.6;
const TAPE = { height: 10.5, letter: 6.9, width: 43, lines: 1.25 };
/** Letters of displays, and the largest that two lines have room for, in millimetres. */
const DISPLAY = { letter: 9, most: 12.5 };

/** What of the profile a drawing shows. */
export interface Drawn {
  readonly surface: Signal<Surface>;
  readonly surfaceId: Signal<string>;
  readonly stack: Signal<Stack>;
  readonly names: Signal<Names>;
  readonly bank: Signal<number>;
  /** Letters below this, in millimetres, would be too small to read. */
  readonly least: Signal<number>;
}

/** What stands where in the drawing of a surface, in millimetres: controls, what they say, displays and tape. */
export class SurfaceLayout {
  private readonly surface: Signal<Surface>;
  private readonly surfaceId: Signal<string>;
  private readonly stack: Signal<Stack>;
  private readonly names: Signal<Names>;
  private readonly bank: Signal<number>;
  private readonly least: Signal<number>;

  constructor({ surface, surfaceId, stack, names, bank, least }: Drawn) {
    this.surface = surface;
    this.surfaceId = surfaceId;
    this.stack = stack;
    this.names = names;
    this.bank = bank;
    this.least = least;
  }

  readonly viewBox = computed(() => `0 0 ${this.surface().width} ${this.surface().height}`);
  readonly unit = computed(() => unitOf(this.surface()));
  readonly makerLetter = computed(() => Math.max(9 * this.unit(), this.least()));
  /** Letters of displays, in millimetres; 0 where they would not fit. */
  readonly displayLetter = computed(() => {
    const letter = Math.max(DISPLAY.letter, this.least());
    return letter > DISPLAY.most ? 0 : letter;
  });
  readonly displays = computed(() =>
    this.surface().controls.filter((c) => mainPart(c.kind) === null),
  );
  /** All that is drawn of each control, worked out once and not at every change of the selection. */
  readonly items = computed(() =>
    inLayers(this.surface().controls).map((control) => this.itemOf(control)),
  );
  readonly movers = computed(() =>
    this.items().filter(({ control }) =>
      mainPart(control.kind) === null ? control.takes.meter : mainPart(control.kind) === 'value',
    ),
  );

  /** Displays that stand by themselves. */
  readonly lone = computed(() => this.displays().filter(({ strip }) => strip === undefined));

  /** One wide band behind the pieces of the display. */
  readonly band = computed(() => {
    const pieces = this.displays().filter(({ strip }) => strip !== undefined);
    if (pieces.length === 0) return null;
    const x = Math.min(...pieces.map((c) => c.x)) - 2;
    const y = Math.min(...pieces.map((c) => c.y)) - 1;
    return {
      x,
      y,
      width: Math.max(...pieces.map((c) => c.x + c.width)) + 2 - x,
      height: Math.max(...pieces.map((c) => c.y + c.height)) + 1 - y,
    };
  });

  private seen(control: string, part: InputPart) {
    return this.stack().first({ surface: this.surfaceId(), control, part });
  }

  private action(control: string, part: InputPart): Action | undefined {
    return this.seen(control, part)?.binding.actions[0];
  }

  /** Strips of tape: what each control that moves reaches now; its own name where it reaches nothing. */
  readonly tapes = computed(() => {
    const { controls, height } = this.surface();
    const unit = this.unit();
    const written = new Set(this.displays().map((c) => c.strip));
    const all = controls
      .filter((c) => mainPart(c.kind) === 'value')
      .filter((c) => c.kind === 'fader' || c.strip === undefined || !written.has(c.strip))
      .map((c) => {
        const seen = this.seen(c.id, 'value');
        const action = seen?.binding.actions[0];
        const letter = Math.max(TAPE.letter * unit, this.least());
        const tall = Math.max(TAPE.height * unit, letter * TAPE.lines);
        const width = Math.max(c.width, Math.min(TAPE.width * unit, this.roomFor(c)));
        // Of a name its number alone tells more than its beginning.
        const text = action
          ? fitText(this.names().tape(action, this.bank()), width, letter)
          : fitName(c.label, width, letter);
        const below = c.y + c.height + 1.5;
        return {
          id: c.id,
          bound: action !== undefined,
          below: seen?.below ?? false,
          x: c.x + c.width / 2 - width / 2,
          y: Math.min(below, this.nextBelow(c) - tall, height - tall),
          width,
          height: tall,
          letter,
          text,
        };
      })
      // Where nothing can be read there is no tape either.
      .filter(({ text }) => text !== '');
    return apart(all);
  });

  /** How wide a tape under a control may be before it meets its neighbours' tapes. */
  private roomFor(control: Control): number {
    const middle = control.x + control.width / 2;
    const row = this.surface().controls.filter(
      (c) =>
        c !== control && Math.abs(c.y + c.height - control.y - control.height) < 12 && !c.silent,
    );
    return Math.min(...row.map((c) => Math.abs(c.x + c.width / 2 - middle) - 2), Infinity);
  }

  /** Where the next control below one begins. */
  private nextBelow(control: Control): number {
    const under = this.surface().controls.filter(
      (c) =>
        c.y >= control.y + control.height &&
        c.x < control.x + control.width &&
        control.x < c.x + c.width,
    );
    return Math.min(...under.map((c) => c.y - 1), Infinity);
  }

  /** Controls that what has focus never takes: a pin in the corner of each. */
  readonly pins = computed(() =>
    this.items()
      .filter(({ pinned }) => pinned)
      .map(({ control: { id, x, y, width } }) => ({ id, x: x + width - 1, y: y + 1 })),
  );

  private itemOf(control: Control) {
    const surface = this.surface();
    const inputs = inputsOf(surface, control);
    const relative = turns(surface, control, 'value');
    const silent = inputs.length === 0;
    const role = silent ? 'img' : mainPart(control.kind) === 'push' ? 'button' : 'slider';
    const seen = inputs.map((part) => this.seen(control.id, part)).find((one) => one !== undefined);
    const action = seen?.binding.actions[0];
    const does = action ? this.names().tape(action, this.bank()) : 'nothing bound';
    const isDisplay = mainPart(control.kind) === null;
    const pinned = seen?.binding.pinned ?? false;
    const lies = isLying(control) ? 'horizontal' : 'vertical';
    return {
      control,
      role,
      bound: isDisplay || action !== undefined,
      below: seen?.below ?? false,
      pinned,
      legend: this.legend(control),
      letter: this.letter(control),
      place: `translate(${control.x} ${control.y})`,
      start: isDisplay
        ? `translate(${control.x} ${control.y + 28}) scale(1 0)`
        : moverAt(control, 0, relative),
      orientation: role === 'slider' && !relative ? lies : null,
      says: isDisplay
        ? control.label
        : `${control.label}: ${silent ? 'sends nothing' : does}${pinned ? ', pinned' : ''}`,
    };
  }

  /** Whether nothing can be done with it: a display, or what sends nothing. */
  isSilent(control: Control): boolean {
    return inputsOf(this.surface(), control).length === 0;
  }

  /** What stands on a key: its sign, else what it does, else its name. */
  private legend(control: Control): string {
    if (mainPart(control.kind) !== 'push') return '';
    const action = this.action(control.id, 'push');
    if (control.kind === 'key' && !action) return '';
    const size = this.letter(control);
    if (size > control.height * 0.95) return '';
    if (control.legend === undefined && !action) return fitName(control.label, control.width, size);
    if (control.legend !== undefined || !action)
      return fitShort(control.legend ?? '', control.width, control.height, size);
    const { width, height, round, kind } = control;
    const text = this.names().tape(action, this.bank());
    // A round key is narrower beside its middle, and a keyboard's has its text at its end.
    return fitShort(text, round ? width * 0.85 : width, round || kind === 'key' ? 0 : height, size);
  }

  private letter(control: Control): number {
    const sign = control.legend !== undefined && control.legend.length <= 2 && !control.round;
    const small = control.round && control.legend === undefined;
    const size = LETTER * this.unit() * (sign ? 1.3 : small ? 0.86 : 1);
    return Math.max(Math.min(size, control.height * 0.7), this.least());
  }
}

interface Place {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

const isOver = (a: Place, b: Place): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** Of tapes that would lie over each other one is left out: what is bound stays before what is not. */
function apart<T extends Place & { readonly bound: boolean }>(tapes: readonly T[]): T[] {
  const kept: T[] = [];
  for (const bound of [true, false])
    for (const tape of tapes)
      if (tape.bound === bound && !kept.some((other) => isOver(tape, other))) kept.push(tape);
  return tapes.filter((tape) => kept.includes(tape));
}
