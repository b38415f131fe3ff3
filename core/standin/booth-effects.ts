import { DECKS, valueOfChoice } from '@rondo/core/host';
import type { BoothSession } from './booth-session.js';
import { grid } from './host.js';

/** The effect units: where each goes to, and which was used last. */
export class BoothEffects {
  private last = 0;

  constructor(private readonly of: BoothSession) {}

  /** Slot that tells whether the unit that was used last is on. */
  get lastOn(): number {
    return this.of.slot(`effect${this.last + 1}On`);
  }

  /** Where an effect goes to, told in one word: all decks, or the first of those that it is assigned to. */
  tellGoesTo(unit: string): void {
    const decks = Array.from({ length: DECKS }, (_, deck) =>
      this.of.isOn(`effect${unit}Assigned`, deck),
    );
    const first = decks.indexOf(true);
    if (first < 0) return;
    const goesTo = decks.every(Boolean) ? 0 : first + 1;
    this.of.change(this.of.slot(`effect${unit}Deck`), valueOfChoice(DECKS + 1, goesTo));
  }

  /** A choice of a unit is another one now: what it goes to is assigned. */
  chose(id: string): void {
    const goesTo = /^effect\dDeck$/.test(id) ? this.of.choice(id, DECKS + 1) : -1;
    for (let to = 0; goesTo >= 0 && to < DECKS; to++)
      this.of.change(
        this.of.slot(id.replace('Deck', 'Assigned'), to),
        goesTo === 0 || goesTo === to + 1 ? 1 : 0,
      );
    this.use(id, 0);
  }

  /** The second effect unit is there, or is not: then nothing of it is heard, and it is not the one used last. */
  fit(on: boolean): void {
    if (on) return;
    this.of.put(this.of.slot('effect2On'), 0);
    if (this.last === 1) this.use('effect1On', 0);
  }

  /** Something of a unit is set: it is the one used last. */
  use(id: string, value: number): void {
    const unit = Number(/^effect(\d)/.exec(id)?.[1] ?? 0) - 1;
    if (id === 'effectLastAmount')
      this.of.put(this.of.slot(`effect${this.last + 1}Amount`), grid(value));
    else if (unit >= 0) this.last = unit;
    this.of.change(this.of.slot('effectLastOn'), this.of.value(`effect${this.last + 1}On`));
    this.of.change(this.of.slot('effectLastAmount'), this.of.value(`effect${this.last + 1}Amount`));
  }
}
