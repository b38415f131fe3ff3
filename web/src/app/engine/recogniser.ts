import { Injectable, inject } from '@angular/core';
import { IDENTITY_REQUEST, readIdentity, type Identity } from '@rondo/core/wire';
import { Midi } from './midi';

/** How long an answer to an identity request is waited for, ms. */
const ANSWER_MS = 1_200;

export interface Answer {
  readonly identity: Identity;
  /** Input on which the answer came. */
  readonly inputId: string;
}

export const sameIdentity = (
  a: Pick<Identity, 'manufacturer' | 'family' | 'member'> | null | undefined,
  b: Pick<Identity, 'manufacturer' | 'family' | 'member'> | null | undefined,
): boolean =>
  !!a && !!b && a.manufacturer === b.manufacturer && a.family === b.family && a.member === b.member;

/**
 * Asks devices who they are (MIDI 1.0, Universal SysEx identity request). The request plays nothing, whatever is behind
 * an output. One is asked at a time, so that an answer belongs to its question.
 */
@Injectable({ providedIn: 'root' })
export class Recogniser {
  private readonly midi = inject(Midi);
  private queue: Promise<unknown> = Promise.resolve();

  /**
   * Asks the device behind an output; null where none answers in time, or SysEx is not allowed.
   * @param keep tells whether an input is in use by others and stays open afterwards
   */
  ask(outputId: string, keep: (inputId: string) => boolean): Promise<Answer | null> {
    const asked = this.queue.then(() => this.askNow(outputId, keep));
    this.queue = asked;
    return asked;
  }

  private askNow(outputId: string, keep: (inputId: string) => boolean): Promise<Answer | null> {
    if (this.midi.state() !== 'granted') return Promise.resolve(null);
    return new Promise((done) => {
      const inputs = this.midi.inputs();
      const finish = (answer: Answer | null) => {
        clearTimeout(timer);
        stop();
        for (const { id } of inputs) if (!keep(id)) this.midi.ignore(id);
        done(answer);
      };
      const stop = this.midi.watch((inputId, bytes) => {
        const identity = readIdentity(bytes);
        if (identity) finish({ identity, inputId });
      });
      const timer = setTimeout(() => finish(null), ANSWER_MS);
      for (const { id } of inputs) this.midi.listen(id);
      if (!this.midi.send(outputId, Uint8Array.from(IDENTITY_REQUEST))) finish(null);
    });
  }
}
