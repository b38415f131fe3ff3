import { FOCUS_SLOTS, INSERTS, STUDIO, choiceAt, valueText, type Slot } from '@rondo/core/host';

/** What focus needs of the session in which something has it. */
export interface FocusedSession {
  readonly values: Float64Array;
  readonly slots: readonly Slot[];
  readonly selected: number;
  /** First slot of a function, or its slot for a strip. */
  at(functionId: string, strip?: number): number;
  change(slot: number, value: number): void;
  putText(slot: number, text: string): void;
}

/** The insert that has focus on the selected strip, and the page of its parameters that is seen. */
export class StudioFocus {
  private readonly insertSlot: number;
  private readonly pageSlot: number;
  /** Which of the slots of what has focus each slot is; −1 for none. */
  private readonly placeAt: Int8Array;

  constructor(private readonly session: FocusedSession) {
    this.insertSlot = session.at('focusInsert');
    this.pageSlot = session.at('focusPage');
    const places = Array.from({ length: FOCUS_SLOTS }, (_, n) => session.at(`focus${n + 1}`));
    this.placeAt = Int8Array.from(session.slots, (_, slot) => places.indexOf(slot));
  }

  /** The insert that has focus, from 0. */
  get insert(): number {
    return choiceAt(INSERTS.length, this.session.values[this.insertSlot]);
  }

  /** Which of the slots of what has focus a slot is; −1 for none. */
  placeOf(slot: number): number {
    return this.placeAt[slot];
  }

  /** Slot of the insert's parameter that stands in a slot of what has focus; −1 where there is none. */
  focused(slot: number): number {
    const { insert } = this;
    const n = choiceAt(2, this.session.values[this.pageSlot]) * FOCUS_SLOTS + slot;
    return n < INSERTS[insert].parameters.length
      ? this.session.at(`insert${insert + 1}Parameter${n + 1}`, this.session.selected)
      : -1;
  }

  /** Tells what the slots of what has focus are and have. */
  tell(): void {
    const { insert } = this;
    const { name } = INSERTS[insert];
    this.session.putText(
      this.session.at('focusName'),
      `${name}, ${STUDIO.strips[this.session.selected].name}`,
    );
    this.session.change(
      this.session.at('focusOn'),
      this.session.values[this.session.at(`insert${insert + 1}On`, this.session.selected)],
    );
    for (let n = 0; n < FOCUS_SLOTS; n++) {
      const real = this.focused(n);
      this.session.change(this.session.at(`focusHas${n + 1}`), real >= 0 ? 1 : 0);
      this.session.change(
        this.session.at(`focus${n + 1}`),
        real >= 0 ? this.session.values[real] : 0,
      );
      const { label } = real >= 0 ? this.session.slots[real].fn : { label: '' };
      const short = label.slice(name.length + 1);
      const text =
        real >= 0
          ? `${short.charAt(0).toUpperCase()}${short.slice(1)} ${valueText(this.session.slots[real].fn, this.session.values[real])}`
          : '';
      this.session.putText(this.session.at(`focusText${n + 1}`), text);
    }
  }
}
