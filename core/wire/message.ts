import {
  ACTIVE_SENSING,
  CHANNEL_PRESSURE,
  CLOCK,
  CONTINUE,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  POLY_PRESSURE,
  PROGRAM_CHANGE,
  RESET,
  SONG_POSITION,
  SONG_SELECT,
  START,
  STOP,
  SYSEX,
  SYSEX_END,
  TIME_CODE,
  TUNE_REQUEST,
} from './status.js';

/** One MIDI 1.0 message in words. Channels are 1–16; data 0–127; pitch bend and song position 0–16383. */
export type MidiMessage =
  | { type: 'noteOff' | 'noteOn'; channel: number; note: number; velocity: number }
  | { type: 'polyPressure'; channel: number; note: number; value: number }
  | { type: 'controlChange'; channel: number; controller: number; value: number }
  | { type: 'programChange'; channel: number; program: number }
  | { type: 'channelPressure' | 'pitchBend'; channel: number; value: number }
  | { type: 'sysex'; bytes: Uint8Array }
  | { type: 'timeCode' | 'songPosition' | 'songSelect'; value: number }
  | {
      type: 'tuneRequest' | 'clock' | 'start' | 'continue' | 'stop' | 'activeSensing' | 'reset';
    };

const PLAIN_STATUS = {
  tuneRequest: TUNE_REQUEST,
  clock: CLOCK,
  start: START,
  continue: CONTINUE,
  stop: STOP,
  activeSensing: ACTIVE_SENSING,
  reset: RESET,
} as const;
const PLAIN_TYPE = new Map(
  Object.entries(PLAIN_STATUS).map(([type, status]) => [
    status as number,
    type as keyof typeof PLAIN_STATUS,
  ]),
);

/** The first 7 bits of a 14-bit value. */
export const lsb7 = (value: number): number => value & 0x7f;
/** The upper 7 bits of a 14-bit value. */
export const msb7 = (value: number): number => (value >> 7) & 0x7f;
/** Two 7-bit bytes to a 14-bit value, 0–16383. */
export const join14 = (lsb: number, msb: number): number => lsb | (msb << 7);

/**
 * Unpacks what {@link MessageSink.short} received.
 * @throws RangeError where the status is none of MIDI 1.0 or starts a SysEx
 */
export function unpack(packed: number): MidiMessage {
  const status = packed & 0xff;
  const one = (packed >> 8) & 0x7f;
  const two = (packed >> 16) & 0x7f;
  const channel = (status & 0x0f) + 1;
  switch (status & 0xf0) {
    case NOTE_OFF:
      return { type: 'noteOff', channel, note: one, velocity: two };
    case NOTE_ON:
      return { type: 'noteOn', channel, note: one, velocity: two };
    case POLY_PRESSURE:
      return { type: 'polyPressure', channel, note: one, value: two };
    case CONTROL_CHANGE:
      return { type: 'controlChange', channel, controller: one, value: two };
    case PROGRAM_CHANGE:
      return { type: 'programChange', channel, program: one };
    case CHANNEL_PRESSURE:
      return { type: 'channelPressure', channel, value: one };
    case PITCH_BEND:
      return { type: 'pitchBend', channel, value: join14(one, two) };
  }
  if (status === TIME_CODE) return { type: 'timeCode', value: one };
  if (status === SONG_POSITION) return { type: 'songPosition', value: join14(one, two) };
  if (status === SONG_SELECT) return { type: 'songSelect', value: one };
  const type = PLAIN_TYPE.get(status);
  if (!type) throw new RangeError(`No message starts with ${status.toString(16)}`);
  return { type };
}

function need(value: number, top: number, what: string): number {
  if (!Number.isInteger(value) || value < 0 || value > top)
    throw new RangeError(`${what} must be a whole number from 0 to ${top}, not ${value}`);
  return value;
}

function channelStatus(kind: number, channel: number): number {
  return kind | need(channel - 1, 15, 'channel − 1');
}

/**
 * The bytes of a message, status always included (no running status).
 * @throws RangeError where a field is outside its range, or a SysEx is not framed by F0 and F7
 */
export function encode(message: MidiMessage): Uint8Array {
  switch (message.type) {
    case 'noteOff':
    case 'noteOn':
      return Uint8Array.of(
        channelStatus(message.type === 'noteOn' ? NOTE_ON : NOTE_OFF, message.channel),
        need(message.note, 127, 'note'),
        need(message.velocity, 127, 'velocity'),
      );
    case 'polyPressure':
      return Uint8Array.of(
        channelStatus(POLY_PRESSURE, message.channel),
        need(message.note, 127, 'note'),
        need(message.value, 127, 'value'),
      );
    case 'controlChange':
      return Uint8Array.of(
        channelStatus(CONTROL_CHANGE, message.channel),
        need(message.controller, 127, 'controller'),
        need(message.value, 127, 'value'),
      );
    case 'programChange':
      return Uint8Array.of(
        channelStatus(PROGRAM_CHANGE, message.channel),
        need(message.program, 127, 'program'),
      );
    case 'channelPressure':
      return Uint8Array.of(
        channelStatus(CHANNEL_PRESSURE, message.channel),
        need(message.value, 127, 'value'),
      );
    case 'pitchBend': {
      const value = need(message.value, 16_383, 'value');
      return Uint8Array.of(channelStatus(PITCH_BEND, message.channel), lsb7(value), msb7(value));
    }
    case 'sysex': {
      const { bytes } = message;
      const framed =
        bytes.length >= 2 && bytes[0] === SYSEX && bytes[bytes.length - 1] === SYSEX_END;
      if (!framed || bytes.subarray(1, -1).some((byte) => byte > 0x7f))
        throw new RangeError('a SysEx is F0, data bytes, F7');
      return bytes.slice();
    }
    case 'timeCode':
      return Uint8Array.of(TIME_CODE, need(message.value, 127, 'value'));
    case 'songPosition': {
      const value = need(message.value, 16_383, 'value');
      return Uint8Array.of(SONG_POSITION, lsb7(value), msb7(value));
    }
    case 'songSelect':
      return Uint8Array.of(SONG_SELECT, need(message.value, 127, 'value'));
    default:
      return Uint8Array.of(PLAIN_STATUS[message.type]);
  }
}
