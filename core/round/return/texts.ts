import { valueText } from '@rondo/core/host';
import { fitPieces, type TextPiece, type TextPlace } from '@rondo/core/surface';
import type { BankWindow } from '../forward/bank.js';
import type { OutRule } from '../plan/look-book.js';
import type { Plan } from '../plan/plan.js';
import type { Sight } from './sight.js';

/** What a text needs of the slots around the one it shows; −1 for what is not there. */
export interface TextSlots {
  /** What is bound. */
  readonly own: number;
  /** The name of its strip. */
  readonly name: number;
  readonly time: number;
  readonly tempo: number;
  /** Part that it belongs to. */
  readonly part: number;
  /** Layer that is on, the highest. */
  readonly layer: number;
}

const value = new Float64Array(1);

/** Makes texts from their rules: what stands in braces is looked up, the whole is cut to its width with sense. */
export class Texts {
  constructor(
    private readonly plan: Plan,
    private readonly sight: Sight,
    private readonly bank: BankWindow,
  ) {}

  /** The text that a rule gives, 7-bit safe, at most `width` characters. */
  textOf(
    { text, feedback }: Pick<OutRule, 'text' | 'feedback'>,
    slots: TextSlots,
    width: number,
  ): string {
    if (!feedback) return '';
    const pieces = text.map((piece): TextPiece =>
      'text' in piece ? { kind: 'plain', text: piece.text } : this.piece(piece.place, slots),
    );
    return fitPieces(pieces, width === 0 ? LONGEST : width);
  }

  private piece(place: TextPlace, slots: TextSlots): TextPiece {
    const { plan } = this;
    switch (place) {
      case 'value':
        // A host's own text is cut and never shortened: what it means is not known.
        return {
          kind: slots.own >= 0 && plan.slots[slots.own].fn.kind === 'text' ? 'plain' : 'value',
          text: this.value(slots.own),
        };
      case 'time':
        return { kind: 'plain', text: slots.time < 0 ? '' : this.sight.text(slots.time) };
      case 'tempo':
        return { kind: 'value', text: this.value(slots.tempo) };
      case 'function':
        return { kind: 'name', text: slots.own < 0 ? '' : plan.slots[slots.own].fn.label };
      case 'control':
        return { kind: 'name', text: slots.part < 0 ? '' : plan.parts[slots.part].control.label };
      case 'layer':
        return { kind: 'name', text: slots.layer < 0 ? '' : plan.layers[slots.layer].label };
      case 'bank': {
        const { start } = this.bank;
        const last = Math.min(plan.strips, start + Math.max(1, plan.window));
        return { kind: 'plain', text: `${start + 1}-${last}` };
      }
      case 'profile':
        return { kind: 'name', text: plan.profileName };
      default:
        return { kind: 'name', text: this.name(slots) };
    }
  }

  /** The name of a strip; what has no strip is called by its function. */
  private name({ own, name }: TextSlots): string {
    if (name >= 0) return this.sight.text(name);
    return own < 0 ? '' : this.plan.slots[own].fn.label;
  }

  private value(slot: number): string {
    if (slot < 0) return '';
    const { fn } = this.plan.slots[slot];
    if (fn.kind === 'text') return this.sight.text(slot);
    if (!this.sight.see(slot, value, 0)) return '';
    return valueText(fn, value[0]).replace('Centre', 'C');
  }
}

/** Where the text ends with its message. */
const LONGEST = 112;
