import { DestroyRef, Directive, ElementRef, computed, inject, input } from '@angular/core';
import { SELECTED, type HostFunction, type HostModel } from '@rondo/core/host';
import { EngineService } from '../../../engine/engine.service';
import { SlotField } from '../../../engine/frame';
import type { Grip, Played } from '../../../shared/ui/hands';
import { Roving } from '../../../shared/ui/roving';
import { NextTouch } from '../next-touch';
import { Workbench } from '../workbench';
import { CAP_SHARE, PicturePainter, type PaintsToo, type Shape } from './picture-painter';
import type { Reach } from './reach';

const KEY_STEP = 0.01;
const PAGE_STEP = 0.1;
/** Pixels of a hand's way over a dial's whole travel. */
const DIAL_PIXELS = 120;
/** The hand is on the surface: the host's picture takes turns with the round, every other frame. */
const RHYTHM = { every: 2, turn: 0 };
/** What the keyboard can come to. */
const PLAYABLE = 'button[data-address]:not(:disabled), [role=slider][data-address]';

interface Target {
  readonly element: HTMLElement;
  readonly address: string;
  readonly shape: Shape;
}

const SLIDING: ReadonlySet<Shape> = new Set(['fader', 'pan', 'dial']);

/**
 * What pictures of hosts share: elements with a `data-address` show a function and, where the host is simulated, are
 * played with mouse, touch and keyboard.
 */
@Directive()
export abstract class LivePicture implements Played {
  readonly model = input.required<HostModel>();
  readonly hostId = input.required<string>();
  /** Which strips each surface reaches. */
  readonly reaches = input<readonly Reach[]>([]);
  /** A real program stands behind the port: the picture shows what is known of it. */
  readonly real = input(false);

  /** Nothing is shown but what the program has told: it has no other picture. */
  private readonly believed = computed(() => this.real() || this.model().desk === true);

  protected readonly engine = inject(EngineService);
  /** On the Bind screen a function of the picture can be pointed at. */
  private readonly bench = inject(Workbench, { optional: true });
  private readonly next = inject(NextTouch, { optional: true });
  private readonly root: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  /** Where the keyboard is in the picture. */
  readonly roving = new Roving();
  private readonly painter = new PicturePainter({
    root: this.root,
    hostId: this.hostId,
    isBelieved: this.believed,
    texts: () => this.engine.frames.slotTexts,
    collected: () => this.roving.among(this.playable().map(({ id }) => id)),
  });

  constructor() {
    const stop = this.engine.frames.paint((frame) => this.painter.paint(frame), RHYTHM);
    inject(DestroyRef).onDestroy(stop);
  }

  /** Elements have come or gone, as after another page of the picture. */
  changed(): void {
    this.painter.changed();
  }

  /** Lets a part of the picture paint, as long as what asks for it lives. Call it where things are injected. */
  paintsToo(part: PaintsToo): void {
    inject(DestroyRef).onDestroy(this.painter.add(part));
  }

  set(address: string, value: number): void {
    if (!this.real()) this.engine.touchHost(`host:${this.hostId()}`, address, value);
  }

  /** What a function has now, also where its element was not painted yet. */
  private valueOf(address: string): number {
    const { now: frame } = this.engine.frames;
    const key = `${this.hostId()}/${address}`;
    const slot = frame?.plan.slots.findIndex((one) => one.key === key) ?? -1;
    return frame && slot >= 0 ? frame.slot(slot, SlotField.Value) : 0;
  }

  private target(target: EventTarget | null): Target | null {
    const element = (target as HTMLElement).closest<HTMLElement>('[data-address]');
    const { address, kind } = element?.dataset ?? {};
    return element && address && kind ? { element, address, shape: kind as Shape } : null;
  }

  /** Whether a click chooses a function and does nothing else. */
  get points(): boolean {
    return this.bench?.mode() === 'point';
  }

  private point({ address }: Target): void {
    const fn = this.painter.fnAt(address) ?? this.fnAt(address);
    const { bench, next } = this;
    const profile = bench?.profile();
    if (!fn || !bench || !next || !profile) return;
    const place = address.slice(fn.id.length + 1);
    const strip = place === '' ? -1 : place === 'selected' ? SELECTED : Number(place) - 1;
    const scope =
      strip === SELECTED
        ? ({ kind: 'selected' } as const)
        : strip < 0
          ? ({ kind: 'host' } as const)
          : ({ kind: 'fixed', strip } as const);
    const target = { host: this.hostId(), function: fn.id, scope };
    const name = bench.namesOf(profile).target(target);
    next.misfit.set('');
    next.pointed.set({ action: { do: 'function', behaviour: 'follow', ...target }, name });
  }

  private fnAt(address: string): HostFunction | undefined {
    const id = address.split('/')[0];
    return this.model().functions.find((fn) => fn.id === id);
  }

  thingAt(target: EventTarget | null): string | null {
    return this.target(target)?.address ?? null;
  }

  grasp(event: PointerEvent): Grip | null {
    const target = this.target(event.target);
    if (!target) return null;
    if (this.points) {
      event.preventDefault();
      this.point(target);
      return null;
    }
    if (this.real()) return null;
    if (target.shape === 'hold') return this.hold(target);
    if (SLIDING.has(target.shape)) return this.drag(target, event);
    this.press(target, event.shiftKey ? -1 : 1);
    return null;
  }

  /** It is on for as long as it is held. */
  private hold({ address }: Target): Grip {
    this.set(address, 1);
    return { end: () => this.set(address, 0) };
  }

  private drag({ element, address, shape }: Target, { clientX, clientY }: PointerEvent): Grip {
    const box = element.getBoundingClientRect();
    const pixels =
      shape === 'fader' ? box.height * CAP_SHARE : shape === 'pan' ? box.width : DIAL_PIXELS;
    const from = this.valueOf(address);
    return {
      move: (event) => {
        const up = clientY - event.clientY;
        const right = event.clientX - clientX;
        const way = shape === 'fader' ? up : shape === 'pan' ? right : up + right;
        this.set(address, clamp(from + way / pixels));
      },
      // It stays where it was left.
      end: () => undefined,
    };
  }

  /** What a click or the space bar does. */
  private press({ element, address, shape }: Target, by: number): void {
    if (shape === 'toggle') {
      const on = this.valueOf(address) >= 0.5;
      const stays = element.dataset['stays'] !== undefined;
      this.set(address, on && !stays ? 0 : 1);
    } else if (shape === 'choice') {
      const total = this.painter.fnAt(address)?.choices?.length ?? 2;
      const now = Math.round(this.valueOf(address) * (total - 1));
      this.set(address, ((now + by + total) % total) / (total - 1));
    } else if (shape === 'trigger') this.set(address, 1);
    else if (shape === 'cell') this.set(address, this.valueOf(address) > 0.4 ? 0 : 1);
  }

  /** A double click puts something that slides back to its rest. */
  protected onDouble(event: Event): void {
    const found = this.target(event.target);
    if (found && SLIDING.has(found.shape) && found.shape !== 'fader')
      this.set(found.address, this.painter.fnAt(found.address)?.rest ?? 0.5);
  }

  strike(event: KeyboardEvent, held: boolean): Grip | null {
    const found = this.target(event.target);
    if (!found || event.ctrlKey || event.metaKey || event.altKey) return null;
    const { address, shape } = found;
    const press = event.key === 'Enter' || event.key === ' ';
    const up = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key] ?? 0;
    const page = { PageUp: 1, PageDown: -1 }[event.key] ?? 0;
    const end = { Home: 0, End: 1 }[event.key];
    if (press && (this.points || !SLIDING.has(shape))) {
      event.preventDefault();
      if (event.repeat || held) return null;
      if (this.points) this.point(found);
      else if (shape === 'hold') return this.hold(found);
      else this.press(found, event.shiftKey ? -1 : 1);
    } else if (!this.roving.key(event, address, this.playable())) {
      if (up === 0 && page === 0 && end === undefined) return null;
      event.preventDefault();
      const from = this.valueOf(address);
      this.set(address, end ?? clamp(from + up * KEY_STEP + page * PAGE_STEP));
    }
    return null;
  }

  /** What arrows go between, as it stands on the screen. */
  private playable() {
    return [...this.root.querySelectorAll<HTMLElement>(PLAYABLE)].map((element) => {
      const { x, y, width, height } = element.getBoundingClientRect();
      const id = element.dataset['address'] ?? '';
      return { id, x, y, width, height, focus: () => element.focus() };
    });
  }
}

const clamp = (value: number): number => Math.max(0, Math.min(1, value));
