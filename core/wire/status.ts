/**
 * Status bytes and lengths of MIDI 1.0 messages.
 * Source: MIDI 1.0 Detailed Specification 4.2.1, tables I–V.
 */
export const NOTE_OFF = 0x80;
export const NOTE_ON = 0x90;
export const POLY_PRESSURE = 0xa0;
export const CONTROL_CHANGE = 0xb0;
export const PROGRAM_CHANGE = 0xc0;
export const CHANNEL_PRESSURE = 0xd0;
export const PITCH_BEND = 0xe0;
export const SYSEX = 0xf0;
export const TIME_CODE = 0xf1;
export const SONG_POSITION = 0xf2;
export const SONG_SELECT = 0xf3;
export const TUNE_REQUEST = 0xf6;
export const SYSEX_END = 0xf7;
export const CLOCK = 0xf8;
export const START = 0xfa;
export const CONTINUE = 0xfb;
export const STOP = 0xfc;
export const ACTIVE_SENSING = 0xfe;
export const RESET = 0xff;

/**
 * Length in bytes, status included, of the message each status byte starts.
 * 0 for undefined statuses and for F0/F7, whose length is not fixed; 0 for data bytes.
 */
export const MESSAGE_LENGTH: Readonly<Uint8Array> = (() => {
  const length = new Uint8Array(256);
  for (let status = 0x80; status < 0xf0; status++) {
    const kind = status & 0xf0;
    length[status] = kind === PROGRAM_CHANGE || kind === CHANNEL_PRESSURE ? 2 : 3;
  }
  length[TIME_CODE] = 2;
  length[SONG_POSITION] = 3;
  length[SONG_SELECT] = 2;
  length[TUNE_REQUEST] = 1;
  for (const status of [CLOCK, START, CONTINUE, STOP, ACTIVE_SENSING, RESET]) length[status] = 1;
  return length;
})();
