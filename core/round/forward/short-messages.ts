import { CONTROL_CHANGE, NOTE_OFF, NOTE_ON, POLY_PRESSURE } from '@rondo/core/wire';
import type { Outbox } from '../return/outbox.js';

/**
 * Writes a packed short message.
 * @returns its bytes, 0 for what is none
 */
function writeShort(packed: number, buffer: Uint8Array): number {
  const status = packed & 0xff;
  buffer[0] = status;
  buffer[1] = (packed >> 8) & 0x7f;
  buffer[2] = (packed >> 16) & 0x7f;
  if (status < 0x80) return 0;
  if (status >= 0xf0) return status >= 0xf8 || status === 0xf6 ? 1 : status === 0xf2 ? 3 : 2;
  return (status & 0xe0) === 0xc0 ? 2 : 3;
}

const scratch = new Uint8Array(3);

/** Sends a short message as an event; false where it cannot go. */
export function pushShort(box: Outbox, packed: number): boolean {
  const length = writeShort(packed, scratch);
  return length > 0 && box.open ? box.pushEvent(scratch, 0, length) : false;
}

/** The message that ends what a message began, packed: the same note or controller at 0; 0 where nothing ends it. */
export function endOf(packed: number): number {
  const kind = packed & 0xf0;
  const same = packed & 0xffff;
  switch (kind) {
    case NOTE_OFF:
    case NOTE_ON:
    case POLY_PRESSURE:
    case CONTROL_CHANGE:
      return same;
    default:
      return 0;
  }
}
