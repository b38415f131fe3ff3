import { noteName } from './note-names.js';
import { unpack } from './message.js';
import { OSC_MESSAGE } from './osc.js';
import { MESSAGE_LENGTH, SYSEX } from './status.js';

/** Bytes as lower-case hex pairs with spaces, as they are shown everywhere. */
export function toHex(bytes: Uint8Array, from = 0, to = bytes.length): string {
  let text = '';
  for (let at = from; at < to; at++)
    text += (at > from ? ' ' : '') + bytes[at].toString(16).padStart(2, '0');
  return text;
}

/**
 * Reads hex pairs, upper or lower case, with or without spaces between pairs.
 * @returns the bytes, or null where the text is anything else (nothing at all included)
 */
export function fromHex(text: string): Uint8Array | null {
  const words = text.trim().split(/\s+/);
  if (!words.every((word) => /^(?:[0-9a-f]{2})+$/i.test(word))) return null;
  return Uint8Array.from(words.join('').match(/../g) ?? [], (pair) => parseInt(pair, 16));
}

/** The bytes of a packed message, as hex. */
export function packedToHex(packed: number): string {
  if ((packed & 0xff) === OSC_MESSAGE) return '';
  const bytes = Uint8Array.of(packed & 0xff, (packed >> 8) & 0x7f, (packed >> 16) & 0x7f);
  return toHex(bytes, 0, MESSAGE_LENGTH[packed & 0xff]);
}

/** A packed message as a line that people can read. */
export function describePacked(packed: number): string {
  // Only its first byte fits.
  if ((packed & 0xff) === SYSEX) return 'SysEx';
  if ((packed & 0xff) === OSC_MESSAGE) return 'OSC';
  const m = unpack(packed);
  switch (m.type) {
    case 'noteOn':
      return `Note on ${m.note} (${noteName(m.note)}), velocity ${m.velocity}, channel ${m.channel}`;
    case 'noteOff':
      return `Note off ${m.note} (${noteName(m.note)}), channel ${m.channel}`;
    case 'polyPressure':
      return `Key pressure ${m.note}: ${m.value}, channel ${m.channel}`;
    case 'controlChange':
      return `Controller ${m.controller}: ${m.value}, channel ${m.channel}`;
    case 'programChange':
      return `Program ${m.program}, channel ${m.channel}`;
    case 'channelPressure':
      return `Channel pressure ${m.value}, channel ${m.channel}`;
    case 'pitchBend':
      return `Pitch bend ${m.value}, channel ${m.channel}`;
    case 'sysex':
      return 'SysEx';
    case 'songPosition':
      return `Song position ${m.value}`;
    case 'songSelect':
      return `Song ${m.value}`;
    case 'timeCode':
      return `Time code ${m.value}`;
    case 'tuneRequest':
      return 'Tune request';
    case 'clock':
      return 'Clock';
    case 'start':
      return 'Start';
    case 'continue':
      return 'Continue';
    case 'stop':
      return 'Stop';
    case 'activeSensing':
      return 'Active sensing';
    case 'reset':
      return 'Reset';
  }
}
