import { MARKERS } from '@rondo/core/host';
import { JUST_PASSED } from './studio-transport.js';

export interface Marker {
  readonly bar: number;
  readonly name: string;
}

const START_MARKERS: readonly Marker[] = [
  { bar: 0, name: 'Harbour' },
  { bar: 16, name: 'First crossing' },
  { bar: 40, name: 'Fog' },
  { bar: 72, name: 'Slack water' },
];

/** What markers need of the song that they stand in. */
export interface MarkedSong {
  /** Place in the song, in bars from 0. */
  readonly bar: number;
  goToBar(bar: number): void;
  /** First slot of a function. */
  at(functionId: string): number;
  change(slot: number, value: number): void;
  putText(slot: number, text: string): void;
}

/** Markers of the song: added, gone to, and the last one told. */
export class StudioMarkers {
  readonly all: Marker[] = [...START_MARKERS];

  constructor(private readonly song: MarkedSong) {}

  /** Goes to a marker by its place; where there is none it does nothing. */
  to(index: number): void {
    const marker = this.all[index] as Marker | undefined;
    if (marker) this.song.goToBar(marker.bar);
  }

  /** Sets one at the nearest bar line. */
  add(): void {
    if (this.all.length >= MARKERS) return;
    const bar = Math.round(this.song.bar);
    if (this.all.some((marker) => marker.bar === bar)) return;
    this.all.push({ bar, name: `Marker ${this.all.length + 1}` });
    this.all.sort((a, b) => a.bar - b.bar);
    this.song.change(this.song.at('unsaved'), 1);
    this.tell();
  }

  /** Goes to the next one, or to the one before. */
  step(by: 1 | -1): void {
    const bar = this.song.bar;
    const next =
      by > 0
        ? this.all.find((marker) => marker.bar > bar + 1e-6)
        : this.all.findLast((marker) => marker.bar < bar - JUST_PASSED);
    if (next) this.song.goToBar(next.bar);
  }

  /** Tells which was passed last. */
  tell(): void {
    const passed = this.all.findLast((marker) => marker.bar <= this.song.bar + 1e-6);
    this.song.putText(this.song.at('markerName'), passed?.name ?? '');
  }
}
