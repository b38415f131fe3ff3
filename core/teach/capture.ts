import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  POLY_PRESSURE,
  PROGRAM_CHANGE,
  StreamParser,
  join14,
  type MessageSink,
} from '@rondo/core/wire';

export type SentType =
  | 'controlChange'
  | 'note'
  | 'pitchBend'
  | 'nrpn'
  | 'rpn'
  | 'channelPressure'
  | 'polyPressure'
  | 'programChange';

/** All values that came by one message address, with their times. */
export interface Track {
  readonly type: SentType;
  /** 1–16. */
  readonly channel: number;
  /** Note, controller, parameter; −1 where the type has none. */
  readonly number: number;
  resolution: 7 | 14;
  /** Milliseconds, never falling. */
  readonly times: number[];
  readonly values: number[];
  /** Release velocities other than 0 and 64, for notes. */
  releaseVelocities: number;
  /** Place of its first message among all. */
  readonly first: number;
}

const DATA_MSB = 6;
const DATA_LSB = 38;
const NULL_PARAMETER = 16_383;
/** MIDI 1.0: controllers 0–31 are the MSB of 32–63. */
const PAIRED = 32;
/** Halves of a pair come this close together, ms. */
const PAIR_GAP = 8;
/** Share of halves that must stand beside their other half. */
const PAIR_SHARE = 0.85;

interface Parameter {
  type: 'nrpn' | 'rpn';
  msb: number;
  lsb: number;
}

interface Raw {
  readonly t: number;
  readonly value: number;
  readonly order: number;
}

/**
 * Sorts a capture into one track for each message address, with (N)RPN put together (MIDI 1.0: 98–101 choose, 6 and 38
 * carry) and 14-bit controller pairs recognised by their halves standing beside each other. Real time and SysEx are
 * passed over.
 */
export class Capture implements MessageSink {
  private readonly tracks = new Map<string, Track>();
  private readonly parser = new StreamParser(this);
  private readonly parameters = new Map<number, Parameter>();
  /** Controllers 6, 38 and 96–101 while no parameter is chosen: they are controllers like any other. */
  private readonly plain = new Map<string, Raw[]>();
  private order = 0;
  private now = 0;

  /** @param t milliseconds */
  feed(t: number, bytes: Uint8Array): void {
    this.now = t;
    this.parser.feed(bytes);
  }

  sysex(): void {
    // A control that sends SysEx is described by hand.
  }

  short(packed: number): void {
    const status = packed & 0xff;
    if (status >= 0xf0) return;
    this.order++;
    const channel = (status & 0x0f) + 1;
    const one = (packed >> 8) & 0x7f;
    const two = (packed >> 16) & 0x7f;
    switch (status & 0xf0) {
      case NOTE_ON:
        this.add('note', channel, one, two);
        return;
      case NOTE_OFF: {
        const track = this.add('note', channel, one, 0);
        if (two !== 0 && two !== 64) track.releaseVelocities++;
        return;
      }
      case POLY_PRESSURE:
        this.add('polyPressure', channel, one, two);
        return;
      case CONTROL_CHANGE:
        this.controller(channel, one, two);
        return;
      case PROGRAM_CHANGE:
        this.add('programChange', channel, -1, one);
        return;
      case CHANNEL_PRESSURE:
        this.add('channelPressure', channel, -1, one);
        return;
      case PITCH_BEND:
        this.add('pitchBend', channel, -1, join14(one, two)).resolution = 14;
        return;
    }
  }

  private controller(channel: number, number: number, value: number): void {
    if (number >= 98 && number <= 101) {
      const type: Parameter['type'] = number <= 99 ? 'nrpn' : 'rpn';
      const old = this.parameters.get(channel);
      const chosen: Parameter = old?.type === type ? old : { type, msb: -1, lsb: -1 };
      if (number % 2 === 1) chosen.msb = value;
      else chosen.lsb = value;
      this.parameters.set(channel, chosen);
      this.keep(channel, number, value);
      return;
    }
    const chosen = this.parameters.get(channel);
    const parameter =
      chosen && chosen.msb >= 0 && chosen.lsb >= 0 ? join14(chosen.lsb, chosen.msb) : -1;
    if (chosen && parameter >= 0 && parameter !== NULL_PARAMETER) {
      if (number === DATA_MSB) {
        this.forget(channel);
        this.add(chosen.type, channel, parameter, value << 7);
        return;
      }
      if (number === DATA_LSB) {
        const track = this.track(chosen.type, channel, parameter);
        if (track.values.length > 0) {
          const at = track.values.length - 1;
          track.resolution = 14;
          track.values[at] = (track.values[at] & ~0x7f) | value;
        }
        return;
      }
    }
    if (number === DATA_MSB || number === DATA_LSB) this.keep(channel, number, value);
    else this.add('controlChange', channel, number, value);
  }

  /** Keeps what may yet turn out to be part of a parameter. */
  private keep(channel: number, number: number, value: number): void {
    const key = `${channel} ${number}`;
    const list = this.plain.get(key) ?? [];
    list.push({ t: this.now, value, order: this.order });
    this.plain.set(key, list);
  }

  /** Data has come for a parameter: what chose it was no control. */
  private forget(channel: number): void {
    for (let number = 98; number <= 101; number++) this.plain.delete(`${channel} ${number}`);
  }

  private track(type: SentType, channel: number, number: number, first = this.order): Track {
    const key = `${type} ${channel} ${number}`;
    let track = this.tracks.get(key);
    if (!track) {
      track = {
        type,
        channel,
        number,
        resolution: 7,
        times: [],
        values: [],
        releaseVelocities: 0,
        first,
      };
      this.tracks.set(key, track);
    }
    return track;
  }

  private add(type: SentType, channel: number, number: number, value: number): Track {
    const track = this.track(type, channel, number);
    track.times.push(this.now);
    track.values.push(value);
    return track;
  }

  /** The tracks in the order in which they first appeared. */
  finish(): Track[] {
    for (const [key, list] of this.plain) {
      const [channel, number] = key.split(' ').map(Number);
      const track = this.track('controlChange', channel, number, list[0].order);
      for (const { t, value } of list) {
        track.times.push(t);
        track.values.push(value);
      }
    }
    this.plain.clear();
    const tracks = [...this.tracks.values()].filter((track) => track.values.length > 0);
    for (const track of tracks)
      if ((track.type === 'nrpn' || track.type === 'rpn') && track.resolution === 7)
        track.values.forEach((value, i) => (track.values[i] = value >> 7));
    return joinPairs(tracks).sort((a, b) => a.first - b.first);
  }
}

/** Puts controllers n and n + 32 together where their messages stand beside each other. */
function joinPairs(tracks: Track[]): Track[] {
  const byAddress = new Map(
    tracks
      .filter((track) => track.type === 'controlChange')
      .map((track) => [`${track.channel} ${track.number}`, track]),
  );
  const gone = new Set<Track>();
  const joined: Track[] = [];
  for (const msb of byAddress.values()) {
    if (msb.number >= PAIRED) continue;
    const lsb = byAddress.get(`${msb.channel} ${msb.number + PAIRED}`);
    if (!lsb) continue;
    const pair = joinPair(msb, lsb);
    if (!pair) continue;
    gone.add(msb).add(lsb);
    joined.push(pair);
  }
  return [...tracks.filter((track) => !gone.has(track)), ...joined];
}

function joinPair(msb: Track, lsb: Track): Track | null {
  // Every MSB needs an LSB close by; devices may leave out an MSB that has not changed.
  let beside = 0;
  let at = 0;
  for (const t of msb.times) {
    while (at < lsb.times.length && lsb.times[at] < t - PAIR_GAP) at++;
    if (at < lsb.times.length && lsb.times[at] <= t + PAIR_GAP) beside++;
  }
  const enough =
    beside >= msb.times.length * PAIR_SHARE && lsb.times.length >= msb.times.length * PAIR_SHARE;
  if (!enough) return null;
  const events = [
    ...msb.times.map((t, i) => ({ t, half: 'msb', value: msb.values[i], order: i })),
    ...lsb.times.map((t, i) => ({ t, half: 'lsb', value: lsb.values[i], order: i })),
  ].sort(
    (a, b) => a.t - b.t || (a.half === b.half ? a.order - b.order : a.half === 'msb' ? -1 : 1),
  );
  const lsbFirst = lsb.first < msb.first;
  const track: Track = {
    ...msb,
    resolution: 14,
    times: [],
    values: [],
    first: Math.min(msb.first, lsb.first),
  };
  let high = msb.values[0];
  let low = 0;
  for (const { t, half, value } of events) {
    if (half === 'msb') high = value;
    else low = value;
    // The value is whole when the half that is sent last has come.
    if (half !== (lsbFirst ? 'msb' : 'lsb')) continue;
    track.times.push(t);
    track.values.push(join14(low, high));
  }
  return track.values.length > 0 ? track : null;
}
