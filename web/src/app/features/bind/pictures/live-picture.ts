import { DestroyRef, Directive, ElementRef, computed, inject, input } from '@angular/core';
import {
  SELECTED,
  addressOf,
  valueText,
  type HostFunction,
  type HostModel,
} from '@rondo/core/host';
import { Know, type PlainPlan } from '@rondo/core/round';
import { EngineService } from '../../../engine/engine.service';
import { SlotField, type Frame } from '../../../engine/frame';
import type { Grip, Played } from '../../../shared/ui/hands';
import { Workbench } from '../workbench';
import type { Reach } from './reach';

const KEY_STEP = 0.01;
const PAGE_STEP = 0.1;
const CAP_SHARE = 0.86;
/** Pixels of a hand's way over a dial's whole travel. */
const DIAL_PIXELS = 120;
/** The hand is on the surface: the host's picture takes turns with the round, every other frame. */
const RHYTHM = { every: 2, turn: 0 };
/** Figures are written once in so many of its turns. */
const TEXT_TURNS = 3;

/** How an element of a picture shows and takes its function. */
export type Shape =
  'fader' | 'pan' | 'dial' | 'toggle' | 'hold' | 'trigger' | 'choice' | 'cell' | 'meter' | 'text';

interface Node {
  readonly slot: number;
  readonly element: HTMLElement;
  readonly shape: Shape;
  /** Value and certainty drawn last. */
  value: number;
  know: number;
}

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

  protected readonly address = addressOf;
  protected readonly engine = inject(EngineService);
  /** On the Bind screen a function of the picture can be pointed at. */
  readonly bench = inject(Workbench, { optional: true });
  protected readonly root: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private nodes: Node[] = [];
  private turn = 0;
  private paintedPlan: PlainPlan | null = null;
  private readonly fns = new Map<string, HostFunction>();

  constructor() {
    const stop = this.engine.frames.paint((frame) => this.paint(frame), RHYTHM);
    inject(DestroyRef).onDestroy(stop);
  }

  /** Elements have come or gone, as after another page of the picture. */
  protected changed(): void {
    this.paintedPlan = null;
  }

  private collect(plan: PlainPlan): void {
    if (this.paintedPlan === plan) return;
    this.paintedPlan = plan;
    const slots = new Map(plan.slots.map((slot, i) => [slot.key, i]));
    this.nodes = [...this.root.querySelectorAll<HTMLElement>('[data-address]')].flatMap(
      (element) => {
        const address = element.dataset['address'] ?? '';
        const slot = slots.get(`${this.hostId()}/${address}`);
        if (slot === undefined) return [];
        this.fns.set(address, plan.slots[slot].fn);
        const shape = element.dataset['kind'] as Shape;
        return [{ slot, element, shape, value: NaN, know: -1 }];
      },
    );
    this.collected(plan);
  }

  /** Finds what else a picture paints. */
  protected collected(_plan: PlainPlan): void {
    // Most pictures have nothing more.
  }

  /** Paints what else a picture has. */
  protected painted(_frame: Frame): void {
    // Most pictures have nothing more.
  }

  private paint(frame: Frame): void {
    const { plan } = frame;
    this.collect(plan);
    this.turn++;
    for (const node of this.nodes) {
      // Nobody reads figures faster.
      if (node.shape === 'text' && this.turn % TEXT_TURNS !== 0) continue;
      const { fn } = plan.slots[node.slot];
      if (fn.kind === 'text') {
        const text = this.engine.frames.slotTexts[node.slot] ?? '';
        if (node.element.textContent !== text) node.element.textContent = text;
        continue;
      }
      const value = frame.slot(node.slot, SlotField.Value);
      const know = this.believed() ? frame.slot(node.slot, SlotField.Know) : Know.Known;
      if (Object.is(value, node.value) && know === node.know) continue;
      node.value = value;
      node.know = know;
      this.draw(node, value, know, fn);
    }
    this.painted(frame);
  }

  private draw({ element, shape }: Node, value: number, know: number, fn: HostFunction): void {
    element.classList.toggle('unknown', know === Know.Unknown);
    element.classList.toggle('assumed', know === Know.Assumed);
    if (shape === 'meter') {
      move(element, `scaleY(${value})`);
      return;
    }
    const shown = know === Know.Unknown ? '' : valueText(fn, value);
    switch (shape) {
      case 'fader':
        move(element, `translateY(${-value * CAP_SHARE * 100}%)`);
        element.setAttribute('aria-valuenow', String(Math.round(value * 100)));
        element.setAttribute('aria-valuetext', shown || 'unknown');
        return;
      case 'pan':
        move(element, `translateX(${value * 100}%)`);
        element.setAttribute('aria-valuenow', String(Math.round((value - 0.5) * 200)));
        element.setAttribute('aria-valuetext', shown || 'unknown');
        element.title = `${element.getAttribute('aria-label') ?? ''}: ${shown || 'unknown'}`;
        return;
      case 'dial':
        move(element, `rotate(${(value - 0.5) * 270}deg)`);
        element.setAttribute('aria-valuenow', String(Math.round(value * 100)));
        element.setAttribute('aria-valuetext', shown || 'unknown');
        element.title = `${element.getAttribute('aria-label') ?? ''}: ${shown || 'unknown'}`;
        return;
      case 'toggle':
      case 'hold':
        element.classList.toggle('on', know !== Know.Unknown && value >= 0.5);
        element.setAttribute('aria-pressed', String(know !== Know.Unknown && value >= 0.5));
        return;
      case 'cell':
        element.dataset['state'] = shown;
        element.title = shown;
        element.setAttribute('aria-pressed', String(value > 0.5));
        return;
      case 'trigger':
        // What was done just now is seen for a moment.
        element.classList.toggle('on', value >= 0.5);
        return;
      default:
        element.textContent = shown.replace(' dB', '');
    }
  }

  protected set(address: string, value: number): void {
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
    const fn = this.fns.get(address) ?? this.fnAt(address);
    const { bench } = this;
    const profile = bench?.profile();
    if (!fn || !bench || !profile) return;
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
    bench.misfit.set('');
    bench.pointed.set({ action: { do: 'function', behaviour: 'follow', ...target }, name });
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
      const total = this.fns.get(address)?.choices?.length ?? 2;
      const now = Math.round(this.valueOf(address) * (total - 1));
      this.set(address, ((now + by + total) % total) / (total - 1));
    } else if (shape === 'trigger') this.set(address, 1);
    else if (shape === 'cell') this.set(address, this.valueOf(address) > 0.4 ? 0 : 1);
  }

  /** A double click puts something that slides back to its rest. */
  protected onDouble(event: Event): void {
    const found = this.target(event.target);
    if (found && SLIDING.has(found.shape) && found.shape !== 'fader')
      this.set(found.address, this.fns.get(found.address)?.rest ?? 0.5);
  }

  strike(event: KeyboardEvent, held: boolean): Grip | null {
    const found = this.target(event.target);
    if (!found || event.ctrlKey || event.metaKey || event.altKey) return null;
    const { address, shape } = found;
    const press = event.key === 'Enter' || event.key === ' ';
    const up = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key] ?? 0;
    const page = { PageUp: 1, PageDown: -1 }[event.key] ?? 0;
    const end = { Home: 0, End: 1 }[event.key];
    if (this.points && press) this.point(found);
    else if (shape === 'choice' && up !== 0) this.press(found, up);
    else if (SLIDING.has(shape)) {
      if (up === 0 && page === 0 && end === undefined) return null;
      const from = this.valueOf(address);
      this.set(address, end ?? clamp(from + up * KEY_STEP + page * PAGE_STEP));
    } else if (!press) return null;
    else if (!event.repeat && !held) {
      event.preventDefault();
      if (shape === 'hold') return this.hold(found);
      this.press(found, 1);
    }
    event.preventDefault();
    return null;
  }
}

function move(element: HTMLElement, transform: string): void {
  (element.firstElementChild as HTMLElement).style.transform = transform;
}

const clamp = (value: number): number => Math.max(0, Math.min(1, value));
