import type { Pattern } from '@rondo/core/surface';
import type { HostFunction } from './catalogue.js';

/**
 * Gives functions messages of their own, one after the other: non-registered parameters (MIDI 1.0), of which there are
 * 16 384 on each channel. The order of calls is the chart, so new functions go to the end of a catalogue.
 */
export class Numbers {
  private next = 0;
  private nextText = 0;

  /**
   * @param channel that all the numbers are on, 1–16
   * @param textHeader what texts begin with after F0: a manufacturer's id and what follows it
   */
  constructor(
    private readonly channel: number,
    private readonly textHeader: readonly number[],
  ) {}

  /** A parameter for a kind of function: fine for what moves smoothly, coarse for what switches. */
  private parameter(kind: HostFunction['kind']): Pattern {
    const bits = kind === 'continuous' || kind === 'choice' ? 14 : 7;
    return { type: 'nrpn', channel: this.channel, number: this.next++, bits };
  }

  private text(): Pattern {
    const n = this.nextText++;
    return { type: 'text', header: [...this.textHeader, n >> 7, n & 0x7f], gap: 0 };
  }

  /**
   * Messages of one instance: set and reported alike; texts and meters only reported, triggers only set.
   * @param told only reported, whatever its kind
   */
  one(kind: HostFunction['kind'], told = false): HostFunction['messages'][number] {
    if (kind === 'text') return { report: this.text() };
    if (kind === 'nudge')
      return {
        set: {
          type: 'relative',
          channel: this.channel,
          // Below the controllers that choose parameters, above those that carry them.
          number: 64 + (this.next++ % 30),
          encoding: 'twosComplement',
        },
      };
    const pattern = this.parameter(kind);
    if (kind === 'meter' || told) return { report: pattern };
    return kind === 'trigger' ? { set: pattern } : { set: pattern, report: pattern };
  }

  /** Messages of as many instances. */
  many(
    kind: HostFunction['kind'],
    total: number,
    has: (index: number) => boolean = () => true,
    told = false,
  ): HostFunction['messages'] {
    return Array.from({ length: total }, (_, index) => (has(index) ? this.one(kind, told) : null));
  }
}

/** A function as catalogues write it down, without its messages. */
export type Sketch = Pick<HostFunction, 'id' | 'label' | 'category' | 'kind'> &
  Partial<
    Pick<HostFunction, 'law' | 'choices' | 'ofNotes' | 'rest' | 'needs' | 'view' | 'waits'>
  > & {
    /** Other words for it, in one line. */
    readonly also?: string;
    /** The host tells it and cannot be told it. */
    readonly told?: boolean;
  };

/** A sketch made a function, with its messages. */
export function sketched(
  { also, told: _told, ...sketch }: Sketch,
  per: HostFunction['per'],
  messages: HostFunction['messages'],
) {
  return {
    ...sketch,
    words: also ? also.split(/,\s*/) : [],
    per,
    messages,
  };
}
