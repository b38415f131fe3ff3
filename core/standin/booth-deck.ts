import {
  HOT_CUES,
  KEY_SHIFTS,
  LENGTHS,
  PITCH_RANGES,
  RECORDS,
  STEMS,
  STEM_GROUPS,
  toneName,
  valueOfChoice,
  type Record as Disc,
} from '@rondo/core/host';
import type { BoothSession } from './booth-session.js';
import { grid } from './host.js';

/** How much faster or slower a deck runs at the ends of a bend. */
const BEND_RANGE = 0.08;

const PART_NAMES: Readonly<Record<number, readonly string[]>> = {
  2: ['Voice', 'Rest'],
  3: ['Voice', 'Drums', 'Rest'],
  4: ['Voice', 'Drums', 'Bass', 'Rest'],
  5: ['Voice', 'Drums', 'Bass', 'Keys', 'Rest'],
};

/** One deck of the Booth: the record on it, where it is, its cues and its loop. */
export class Deck {
  record: Disc | null = null;
  /** Beats from the beginning of the record. */
  beat = 0;
  cuePoint = 0;
  /** Cue is held and plays for as long. */
  private previewing = false;
  readonly hotCues = new Array<number>(HOT_CUES).fill(NaN);
  private lastCue = 0;
  /** Where the loop begins, in beats; below 0 where none is set. */
  private loopStart = -1;
  private loopBeats = 4;
  /** It stands elsewhere than it was told to stand last; see {@link Deck.tellTexts}. */
  hasMoved = false;

  constructor(
    private readonly of: BoothSession,
    private readonly index: number,
  ) {}

  private slot(id: string): number {
    return this.of.slot(id, this.index);
  }

  private value(id: string): number {
    return this.of.value(id, this.index);
  }

  private isOn(id: string): boolean {
    return this.of.isOn(id, this.index);
  }

  private choice(id: string, total: number): number {
    return this.of.choice(id, total, this.index);
  }

  private get pitchRange(): number {
    return PITCH_RANGES[this.choice('pitchRange', PITCH_RANGES.length)];
  }

  /** Its speed as a share of the record's own. */
  get rate(): number {
    const pitch = (this.value('pitch') - 0.5) * 2 * this.pitchRange;
    return 1 + pitch + (this.value('bend') - 0.5) * 2 * BEND_RANGE;
  }

  /** Beats a minute that it plays at. */
  get tempo(): number {
    return this.record ? this.record.bpm * this.rate : 0;
  }

  get isPlaying(): boolean {
    return this.isOn('play') || this.previewing;
  }

  /** The key that sounds, in semitones from the record's own: by key shift, and by speed where the key is not locked. */
  get shift(): number {
    const shift = KEY_SHIFTS[this.choice('keyShift', KEY_SHIFTS.length)];
    const bySpeed = this.isOn('keyLock') ? 0 : 12 * Math.log2(Math.max(1e-3, this.rate));
    return shift + bySpeed;
  }

  /** A record is put on, by its place among all; what is none takes it off. */
  load(index: number): void {
    this.record = RECORDS[index] ?? null;
    this.beat = 0;
    this.cuePoint = 0;
    this.previewing = false;
    this.loopStart = -1;
    this.hotCues.fill(NaN);
    for (let cue = 1; cue <= HOT_CUES; cue++) this.of.change(this.slot(`hotCue${cue}`), 0);
    this.of.change(this.slot('loop'), 0);
    this.of.change(this.slot('play'), 0);
    this.hasMoved = true;
    this.tellTexts();
    this.tellStems();
  }

  /** A record says what stems it comes in; no record has none. */
  private tellStems(): void {
    const total = this.record?.stems ?? 0;
    const group = STEM_GROUPS.findIndex((stems) => stems === total);
    if (group >= 0)
      this.of.change(this.slot('stemGroup'), valueOfChoice(STEM_GROUPS.length, group));
    for (let stem = 0; stem < STEMS; stem++) {
      this.of.change(this.slot(`stemHas${stem + 1}`), stem < total ? 1 : 0);
      this.of.putText(this.slot(`stemName${stem + 1}`), PART_NAMES[total]?.[stem] ?? '');
    }
  }

  /** Goes to a share of the record. */
  seek(share: number): void {
    this.goTo(share * (this.record?.beats ?? 0));
  }

  goTo(beat: number): void {
    this.beat = Math.max(0, Math.min(this.record?.beats ?? 0, beat));
    this.hasMoved = true;
  }

  /** Goes on or back by beats. */
  jump(beats: number): void {
    this.goTo(this.beat + beats);
  }

  /** How far a jump goes, in beats. */
  get jumpBeats(): number {
    return LENGTHS[this.choice('jumpLength', LENGTHS.length)];
  }

  /** It halts, and stands where it will start again. */
  stop(): void {
    this.previewing = false;
    this.of.change(this.slot('play'), 0);
    this.goTo(this.cuePoint);
  }

  /** While stopped: sets the cue point and plays for as long as it is held. While playing: back to it, and stop. */
  cue(on: boolean): void {
    this.of.put(this.slot('cue'), on ? 1 : 0);
    if (!on) {
      if (this.previewing) this.goTo(this.cuePoint);
      this.previewing = false;
      return;
    }
    if (this.isOn('play')) {
      this.of.put(this.slot('play'), 0);
      this.goTo(this.cuePoint);
    } else if (this.record) {
      this.cuePoint = this.onGrid(this.beat);
      this.previewing = true;
    }
  }

  /** A beat, or the nearest whole one where the deck keeps in time. */
  private onGrid(beat: number): number {
    return this.isOn('quantise') ? Math.round(beat) : beat;
  }

  /** Sets a free hot cue here, or jumps to one that is set; in time with the beat its place in the beat is kept. */
  hotCue(index = this.lastCue): void {
    if (!this.record) return;
    this.lastCue = index;
    const at = this.hotCues[index];
    if (Number.isNaN(at)) this.hotCues[index] = this.onGrid(this.beat);
    else {
      const within = this.isOn('quantise') && this.isPlaying ? this.beat % 1 : 0;
      this.goTo(at + within);
    }
    this.of.put(this.slot(`hotCue${index + 1}`), 1);
  }

  /** Frees the hot cue that was used last. */
  clearHotCue(): void {
    this.hotCues[this.lastCue] = NaN;
    this.of.change(this.slot(`hotCue${this.lastCue + 1}`), 0);
  }

  loopIn(): void {
    this.loopStart = this.onGrid(this.beat);
  }

  loopOut(): void {
    if (this.loopStart < 0 || this.beat <= this.loopStart) return;
    this.loopBeats = Math.max(LENGTHS[0], this.onGrid(this.beat) - this.loopStart);
    this.of.change(this.slot('loop'), 1);
  }

  /** The loop is switched: on from here where none is set, or off. */
  loop(on: boolean): void {
    if (!on) this.loopStart = -1;
    else if (this.loopStart < 0) this.loopIn();
  }

  /** The loop's length is what is chosen. */
  takeLoopLength(): void {
    this.loopBeats = LENGTHS[this.choice('loopLength', LENGTHS.length)];
  }

  stepLoop(by: number): void {
    const total = LENGTHS.length;
    const next = Math.max(0, Math.min(total - 1, this.choice('loopLength', total) + by));
    this.of.put(this.slot('loopLength'), valueOfChoice(total, next));
    this.takeLoopLength();
    this.hasMoved = true;
  }

  /** Takes over the leader's tempo and the place of its beat. */
  align(leader: Deck): void {
    if (leader === this || !this.record || !leader.record) return;
    this.follow(leader, this.record);
    if (leader.isPlaying) this.goTo(Math.floor(this.beat) + (leader.beat % 1));
  }

  private follow(leader: Deck, { bpm }: Disc): void {
    const wanted = leader.tempo / bpm - 1;
    this.of.change(this.slot('pitch'), grid(0.5 + wanted / (2 * this.pitchRange)));
  }

  /** Plays on for so many µs. */
  turn(micros: number, leader: Deck): void {
    const { record } = this;
    if (!record || !this.isPlaying) return;
    // Only tempo follows all the time; the beat was aligned when sync was pressed.
    if (this.isOn('sync') && leader !== this && leader.record) this.follow(leader, record);
    this.beat += (micros * this.tempo) / 60_000_000;
    const end = this.loopStart + this.loopBeats;
    if (this.isOn('loop') && this.loopStart >= 0 && this.beat >= end)
      this.beat = this.loopStart + ((this.beat - this.loopStart) % this.loopBeats);
    if (this.beat < record.beats) return;
    this.beat = record.beats;
    this.of.put(this.slot('play'), 0);
  }

  /** Tells what is on it, how fast, in which key and how long still. */
  tellTexts(): void {
    const { record, beat, tempo } = this;
    const left = record && tempo > 0 ? ((record.beats - beat) * 60) / tempo : 0;
    this.of.putText(this.slot('name'), record?.title ?? 'No record');
    this.of.putText(this.slot('tempoText'), record ? tempo.toFixed(1) : '');
    this.of.putText(this.slot('keyText'), record ? this.keyOf(record) : '');
    this.of.putText(
      this.slot('timeText'),
      `${Math.floor(left / 60)}:${(left % 60).toFixed(1).padStart(4, '0')}`,
    );
    if (record) this.of.change(this.slot('place'), grid(beat / record.beats));
  }

  private keyOf({ tone }: Disc): string {
    const { shift } = this;
    const cents = Math.round((shift - Math.round(shift)) * 100);
    const off = cents === 0 ? '' : ` ${cents > 0 ? '+' : '−'}${Math.abs(cents)} ct`;
    return `${toneName(tone + shift)}${off}`;
  }
}
