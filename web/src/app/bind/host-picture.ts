import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  computed,
  inject,
  input,
} from '@angular/core';
import { LAWS, addressOf, type HostModel } from '@rondo/core/host';
import { Know, type Plan } from '@rondo/core/round';
import { EngineService } from '../engine/engine.service';
import { OutField, SlotField, type Frame } from '../engine/frame';

const STRIPS_A_ROW = 10;
const KEY_STEP = 0.01;
const PAGE_STEP = 0.1;
const CAP_SHARE = 0.86;
/** The hand is on the surface: the host's picture takes turns with the round, every other frame. */
const RHYTHM = { every: 2, turn: 0 };
/** Figures are written once in so many of its turns. */
const TEXT_TURNS = 3;

interface Node {
  readonly slot: number;
  readonly element: HTMLElement;
  readonly kind: 'fader' | 'pan' | 'toggle' | 'meter' | 'text' | 'know';
  /** Value and certainty drawn last. */
  value: number;
  know: number;
}

/** The host as a picture: live, and played with mouse, touch and keyboard where it is simulated. */
@Component({
  selector: 'rondo-host-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      class="host"
      role="group"
      [attr.aria-label]="model().name"
      (pointerdown)="onDown($event)"
      (pointermove)="onMove($event)"
      (pointerup)="onUp()"
      (pointercancel)="onUp()"
      (keydown)="onKey($event)"
      (dblclick)="onDouble($event)"
    >
      <div class="transport">
        @for (key of transport; track key.id) {
          <button
            type="button"
            class="key {{ key.id }}"
            [attr.data-address]="key.id"
            data-kind="toggle"
            [attr.aria-label]="key.label"
            [title]="key.label"
            [disabled]="real()"
          >
            {{ key.sign }}
          </button>
        }
        <output class="time mono" data-address="time" data-kind="text" aria-label="Time"></output>
        <output
          class="tempo mono"
          data-address="tempo"
          data-kind="text"
          aria-label="Tempo"
        ></output>
      </div>
      @for (row of rows(); track $index) {
        <div class="row">
          @for (strip of row; track strip.n) {
            <div class="strip {{ strip.group }}" [attr.data-strip]="strip.index">
              <span class="reach"
                ><b>{{ mark() }}</b></span
              >
              <button
                type="button"
                class="name"
                [attr.data-address]="address('select', strip.index)"
                data-kind="toggle"
                [title]="strip.name"
                [attr.aria-label]="'Select ' + strip.name"
                [disabled]="real()"
              >
                {{ strip.name }}
              </button>
              <div
                class="pan"
                role="slider"
                aria-valuenow="0"
                [attr.tabindex]="real() ? -1 : 0"
                [attr.aria-label]="'Pan of ' + strip.name"
                aria-valuemin="-100"
                aria-valuemax="100"
                [attr.data-address]="address('pan', strip.index)"
                data-kind="pan"
              >
                <i></i>
              </div>
              <div class="travel">
                <div
                  class="fader"
                  role="slider"
                  aria-valuenow="0"
                  aria-valuenow="0"
                  [attr.tabindex]="real() ? -1 : 0"
                  aria-orientation="vertical"
                  aria-valuemin="0"
                  aria-valuemax="100"
                  [attr.aria-label]="'Volume of ' + strip.name"
                  [attr.data-address]="address('volume', strip.index)"
                  data-kind="fader"
                >
                  <i></i>
                </div>
                <div
                  class="meter"
                  [attr.data-address]="address('meter', strip.index)"
                  data-kind="meter"
                >
                  <i></i>
                </div>
              </div>
              <span
                class="level mono"
                [attr.data-address]="address('volume', strip.index)"
                data-kind="text"
              ></span>
              <div class="keys">
                @for (key of strip.keys; track key.id) {
                  <button
                    type="button"
                    class="small {{ key.id }}"
                    [attr.data-address]="address(key.id, strip.index)"
                    data-kind="toggle"
                    [attr.aria-label]="key.label + ' ' + strip.name"
                    [disabled]="real()"
                  >
                    {{ key.sign }}
                  </button>
                }
              </div>
            </div>
          }
        </div>
      }
    </div>
  `,
  styleUrl: './host-picture.css',
})
export class HostPicture {
  readonly model = input.required<HostModel>();
  readonly hostId = input.required<string>();
  /** Short mark of the surface whose reach the brackets show. */
  readonly mark = input('');
  /** A real program stands behind the port: the picture shows what is known of it. */
  readonly real = input(false);

  protected readonly transport = [
    { id: 'rewind', sign: '◂◂', label: 'Back one bar' },
    { id: 'forward', sign: '▸▸', label: 'On one bar' },
    { id: 'stop', sign: '■', label: 'Stop' },
    { id: 'play', sign: '▶', label: 'Play' },
    { id: 'record', sign: '●', label: 'Record' },
    { id: 'loop', sign: '↻', label: 'Loop' },
    { id: 'click', sign: '♩', label: 'Click' },
  ];
  protected readonly rows = computed(() => {
    const model = this.model();
    const has = (id: string, strip: number) =>
      Boolean(model.functions.find((fn) => fn.id === id)?.messages[strip]);
    const strips = model.strips.map(({ name, group }, index) => ({
      n: index + 1,
      index,
      name,
      group,
      keys: [
        { id: 'mute', sign: 'M', label: 'Mute' },
        ...(has('solo', index) ? [{ id: 'solo', sign: 'S', label: 'Solo' }] : []),
        ...(has('arm', index) ? [{ id: 'arm', sign: 'R', label: 'Arm' }] : []),
      ],
    }));
    return Array.from({ length: Math.ceil(strips.length / STRIPS_A_ROW) }, (_, row) =>
      strips.slice(row * STRIPS_A_ROW, (row + 1) * STRIPS_A_ROW),
    );
  });
  protected readonly address = addressOf;

  private readonly engine = inject(EngineService);
  private readonly root: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private nodes: Node[] = [];
  private strips: HTMLElement[] = [];
  private reached = '';
  private turn = 0;
  private paintedPlan: Plan | null = null;
  private values = new Map<string, number>();
  private drag: {
    address: string;
    kind: string;
    from: number;
    x: number;
    y: number;
    pixels: number;
  } | null = null;

  constructor() {
    const stop = this.engine.paint((frame) => this.paint(frame), RHYTHM);
    inject(DestroyRef).onDestroy(stop);
  }

  private collect(plan: Plan): void {
    if (this.paintedPlan === plan) return;
    this.paintedPlan = plan;
    this.reached = '';
    const slots = new Map(plan.slots.map((slot, i) => [slot.key, i]));
    this.nodes = [...this.root.querySelectorAll<HTMLElement>('[data-address]')].flatMap(
      (element) => {
        const slot = slots.get(`${this.hostId()}/${element.dataset['address']}`);
        return slot === undefined
          ? []
          : [
              {
                slot,
                element,
                kind: element.dataset['kind'] as Node['kind'],
                value: NaN,
                know: -1,
              },
            ];
      },
    );
    this.strips = [...this.root.querySelectorAll<HTMLElement>('[data-strip]')];
  }

  private paint(frame: Frame): void {
    const { plan } = frame;
    this.collect(plan);
    this.turn++;
    for (const node of this.nodes) {
      // Nobody reads figures faster.
      if (node.kind === 'text' && this.turn % TEXT_TURNS !== 0) continue;
      const value = frame.slot(node.slot, SlotField.Value);
      const know = this.real() ? frame.slot(node.slot, SlotField.Know) : Know.Known;
      const { fn } = plan.slots[node.slot];
      if (fn.kind === 'text') {
        const text = this.engine.slotTexts[node.slot] ?? '';
        if (node.element.textContent !== text) node.element.textContent = text;
        continue;
      }
      if (Object.is(value, node.value) && know === node.know) continue;
      node.value = value;
      node.know = know;
      this.draw(node, value, know, LAWS[fn.law].format(value));
    }
    this.paintReach(frame);
  }

  private draw({ element, kind, slot }: Node, value: number, know: number, text: string): void {
    element.classList.toggle('unknown', know === Know.Unknown);
    element.classList.toggle('assumed', know === Know.Assumed);
    const address = element.dataset['address'] ?? String(slot);
    const shown = know === Know.Unknown ? '' : text;
    switch (kind) {
      case 'fader':
        this.values.set(address, value);
        move(element, `translateY(${-value * CAP_SHARE * 100}%)`);
        element.setAttribute('aria-valuenow', String(Math.round(value * 100)));
        element.setAttribute('aria-valuetext', shown || 'unknown');
        return;
      case 'pan':
        this.values.set(address, value);
        move(element, `translateX(${value * 100}%)`);
        element.setAttribute('aria-valuenow', String(Math.round((value - 0.5) * 200)));
        element.setAttribute('aria-valuetext', shown || 'unknown');
        element.title = `Pan ${shown || 'unknown'}`;
        return;
      case 'meter':
        move(element, `scaleY(${value})`);
        return;
      case 'toggle':
        element.classList.toggle('on', value >= 0.5);
        element.setAttribute('aria-pressed', String(value >= 0.5));
        return;
      default:
        element.textContent = shown.replace(' dB', '');
    }
  }

  /** A thin bracket over the strips that the surface's motors and lights reach now. */
  private paintReach(frame: Frame): void {
    const { plan } = frame;
    const now = new Set<number>();
    plan.outs.forEach((_, i) => {
      const slot = frame.out(i, OutField.Slot);
      if (slot >= 0 && plan.links[plan.slots[slot].link].id === this.hostId())
        now.add(plan.slots[slot].strip);
    });
    const key = [...now].sort((a, b) => a - b).join(' ');
    if (key === this.reached) return;
    this.reached = key;
    this.strips.forEach((element, strip) => {
      const first = !now.has(strip - 1) || strip % STRIPS_A_ROW === 0;
      const last = !now.has(strip + 1) || strip % STRIPS_A_ROW === STRIPS_A_ROW - 1;
      element.classList.toggle('reached', now.has(strip));
      element.classList.toggle('first', now.has(strip) && first);
      element.classList.toggle('last', now.has(strip) && last);
    });
  }

  private set(address: string, value: number): void {
    if (!this.real()) this.engine.touchHost(`host:${this.hostId()}`, address, value);
  }

  private target(event: Event): { element: HTMLElement; address: string; kind: string } | null {
    const element = (event.target as HTMLElement).closest<HTMLElement>('[data-address]');
    const { address, kind } = element?.dataset ?? {};
    return element && address && kind ? { element, address, kind } : null;
  }

  protected onDown(event: PointerEvent): void {
    const found = this.target(event);
    if (!found || event.button !== 0 || this.real()) return;
    const { element, address, kind } = found;
    if (kind === 'toggle') this.toggle(element, address);
    if (kind !== 'fader' && kind !== 'pan') return;
    element.setPointerCapture(event.pointerId);
    const box = element.getBoundingClientRect();
    this.drag = {
      address,
      kind,
      from: this.values.get(address) ?? 0,
      x: event.clientX,
      y: event.clientY,
      pixels: kind === 'fader' ? box.height * CAP_SHARE : box.width * 2,
    };
  }

  private toggle(element: HTMLElement, address: string): void {
    this.set(address, element.classList.contains('on') && address !== 'play' ? 0 : 1);
  }

  protected onMove(event: PointerEvent): void {
    const { drag } = this;
    if (!drag) return;
    const way = drag.kind === 'fader' ? drag.y - event.clientY : event.clientX - drag.x;
    this.set(drag.address, clamp(drag.from + way / drag.pixels));
  }

  protected onUp(): void {
    this.drag = null;
  }

  /** A double click puts a pan back to the centre. */
  protected onDouble(event: Event): void {
    const found = this.target(event);
    if (found?.kind === 'pan') this.set(found.address, 0.5);
  }

  protected onKey(event: KeyboardEvent): void {
    const found = this.target(event);
    if (!found || event.ctrlKey || event.metaKey || event.altKey) return;
    const { element, address, kind } = found;
    if (kind === 'toggle') {
      if (event.key !== 'Enter' && event.key !== ' ') return;
      event.preventDefault();
      if (!event.repeat) this.toggle(element, address);
      return;
    }
    const up = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key] ?? 0;
    const page = { PageUp: 1, PageDown: -1 }[event.key] ?? 0;
    const end = { Home: 0, End: 1 }[event.key];
    if (up === 0 && page === 0 && end === undefined) return;
    event.preventDefault();
    const from = this.values.get(address) ?? 0;
    this.set(address, end ?? clamp(from + up * KEY_STEP + page * PAGE_STEP));
  }
}

function move(element: HTMLElement, transform: string): void {
  (element.firstElementChild as HTMLElement).style.transform = transform;
}

const clamp = (value: number): number => Math.max(0, Math.min(1, value));
