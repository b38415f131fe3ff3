import { Injectable, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { heardKey, knownBySending } from '@rondo/core/propose';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { EngineService } from '../../engine/engine.service';
import { listenAll } from '../../engine/listen-all';
import type { PortChoice } from '../../engine/port-choice';
import { Recogniser, sameIdentity, type Answer } from '../../engine/recogniser';
import { listActions } from '../../state/actions';
import { LibraryService } from '../../state/library';
import { selectListOf } from '../../state/list';

/** What is known of a device that is being touched. */
export interface Touched {
  /** The input on which it was heard. */
  readonly port: string;
  /** Surfaces that it may be. */
  readonly may: readonly Surface[];
  /** It is the one that it may be: it says so itself, or enough of it was touched. */
  readonly sure: boolean;
  /** Different messages that have come from it. */
  readonly heard: number;
  readonly ports: PortChoice;
}

/** So many different messages of a device leave no doubt, where one surface alone sends them all. */
const SURE = 4;
/** Surfaces to choose among are few, or it is not known. */
const MOST = 4;

/** Finds out which surface a device is while it is touched: by who it says it is, else by what it sends. */
@Injectable()
export class TouchYours {
  private readonly engine = inject(EngineService);
  private readonly recogniser = inject(Recogniser);
  private readonly library = inject(LibraryService);
  private readonly store = inject(Store);
  private readonly list = this.store.selectSignal(selectListOf.surface);
  readonly on = signal(false);
  /** What is touched is heard: MIDI was allowed. */
  readonly listening = signal(false);
  readonly touched = signal<Touched | null>(null);
  private readonly heard = new Set<string>();
  private answer: Answer | null = null;
  private end: (() => void) | null = null;

  /** Listens until {@link stop}; asks the browser for MIDI where that was not done yet. */
  async start(): Promise<void> {
    this.stop();
    this.on.set(true);
    this.store.dispatch(listActions.load({ kind: 'surface' }));
    // It may be left while the browser asks.
    this.end = await listenAll(
      this.engine,
      (id, bytes) => this.hear(id, bytes),
      () => this.on(),
    );
    this.listening.set(this.end !== null);
  }

  stop(): void {
    this.end?.();
    this.end = null;
    this.on.set(false);
    this.listening.set(false);
    this.touched.set(null);
    this.heard.clear();
    this.answer = null;
  }

  private hear(id: string, bytes: Uint8Array): void {
    const key = heardKey(bytes);
    if (key === null) return;
    const port = this.engine.midi.inputs().find((input) => input.id === id);
    if (!port) return;
    if (this.touched()?.ports.input?.id !== id) {
      this.heard.clear();
      this.answer = null;
      void this.ask(id, port.name);
    }
    this.heard.add(key);
    const output = this.engine.midi.outputs().find(({ name }) => name === port.name) ?? null;
    this.tell(port.name, { real: true, input: port, output });
  }

  /** Asks the device behind the output of the same name who it is. */
  private async ask(inputId: string, name: string): Promise<void> {
    const output = this.engine.midi.outputs().find((port) => port.name === name);
    for (const { id } of this.list().documents ?? []) this.library.fetch('surface', id);
    if (!output) return;
    const answer = await this.recogniser.ask(output.id, () => true);
    const touched = this.touched();
    if (!answer || touched?.ports.input?.id !== inputId) return;
    this.answer = answer;
    this.tell(touched.port, touched.ports);
  }

  private tell(port: string, ports: PortChoice): void {
    const all = this.surfaces();
    const named = all.filter(
      ({ device }) => this.answer && sameIdentity(device.identity, this.answer.identity),
    );
    // Twins are told apart by what they are called.
    const called = named.filter(({ name }) => port.toLowerCase().includes(name.toLowerCase()));
    const sends = knownBySending(all, this.heard).filter(({ id }) => !isGeneric(id));
    const may = called.length === 1 ? called : named.length > 0 ? named : sends.slice(0, MOST);
    const sure = may.length === 1 && (named.length > 0 || this.heard.size >= SURE);
    this.touched.set({ port, may, sure, heard: this.heard.size, ports });
  }

  private surfaces(): Surface[] {
    const own = Object.values(this.library.own().surfaces).filter((one) => one !== null);
    return [...own, ...STOCK_SURFACES.values()];
  }
}

/** Templates that would fit nearly any device. */
const isGeneric = (id: string): boolean => /^(faders|pads|grid|keys|pedals)-|^blank$/.test(id);
