import { addressOf, valueText, type HostFunction } from '@rondo/core/host';
import { Know, type PlainPlan } from '@rondo/core/round';
import { SlotField, type Frame } from '../../../engine/frame';

/** Share of a fader's travel that its cap moves over. */
export const CAP_SHARE = 0.86;
/** Figures are written once in so many turns. */
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

/** What a part of a picture paints besides its functions. */
export interface PaintsToo {
  /** A plan is painted from now on, or elements have come or gone. */
  collected(slots: SlotsOf): void;
  painted(frame: Frame): void;
}
/** The place of a host's function in the frames; −1 where it has none. Strip from 0, −1 for what is the host's own. */
export type SlotsOf = (id: string, strip?: number) => number;

/** What a painter asks its picture for. */
interface Painted {
  readonly root: HTMLElement;
  hostId(): string;
  /** Nothing is shown but what the program has told. */
  isBelieved(): boolean;
  texts(): readonly string[];
  /** The elements that show functions are known. */
  collected(): void;
}

/** Paints what elements with a `data-address` show, from the frames that the engine tells. */
export class PicturePainter {
  private nodes: Node[] = [];
  private turn = 0;
  private plan: PlainPlan | null = null;
  private readonly fns = new Map<string, HostFunction>();
  private readonly others = new Set<PaintsToo>();

  constructor(private readonly picture: Painted) {}

  /** Elements have come or gone, as after another page of the picture. */
  changed(): void {
    this.plan = null;
  }

  /** @returns takes it away again */
  add(other: PaintsToo): () => void {
    this.others.add(other);
    this.changed();
    return () => this.others.delete(other);
  }

  /** The function at an address that has been painted. */
  fnAt(address: string): HostFunction | undefined {
    return this.fns.get(address);
  }

  private collect(plan: PlainPlan): void {
    if (this.plan === plan) return;
    this.plan = plan;
    const slots = new Map(plan.slots.map((slot, i) => [slot.key, i]));
    const { root } = this.picture;
    const host = this.picture.hostId();
    this.nodes = [...root.querySelectorAll<HTMLElement>('[data-address]')].flatMap((element) => {
      const address = element.dataset['address'] ?? '';
      const slot = slots.get(`${host}/${address}`);
      if (slot === undefined) return [];
      this.fns.set(address, plan.slots[slot].fn);
      const shape = element.dataset['kind'] as Shape;
      return [{ slot, element, shape, value: NaN, know: -1 }];
    });
    const slotOf: SlotsOf = (id, strip = -1) => slots.get(`${host}/${addressOf(id, strip)}`) ?? -1;
    for (const other of this.others) other.collected(slotOf);
    this.picture.collected();
  }

  paint(frame: Frame): void {
    const { plan } = frame;
    this.collect(plan);
    this.turn++;
    const isBelieved = this.picture.isBelieved();
    const texts = this.picture.texts();
    for (const node of this.nodes) {
      // Nobody reads figures faster.
      if (node.shape === 'text' && this.turn % TEXT_TURNS !== 0) continue;
      const { fn } = plan.slots[node.slot];
      if (fn.kind === 'text') {
        const text = texts[node.slot] ?? '';
        if (node.element.textContent !== text) node.element.textContent = text;
        continue;
      }
      const value = frame.slot(node.slot, SlotField.Value);
      const know = isBelieved ? frame.slot(node.slot, SlotField.Know) : Know.Known;
      if (Object.is(value, node.value) && know === node.know) continue;
      node.value = value;
      node.know = know;
      draw(node, value, know, fn);
    }
    for (const other of this.others) other.painted(frame);
  }
}

function draw({ element, shape }: Node, value: number, know: number, fn: HostFunction): void {
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

function move(element: HTMLElement, transform: string): void {
  (element.firstElementChild as HTMLElement).style.transform = transform;
}
