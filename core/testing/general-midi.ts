import JZZ from 'jzz';

type Message = readonly number[];

/** What is used of a general-purpose MIDI library, to compare with; its own types leave some of it out. */
interface GeneralMidi {
  /** @param channel from 0 */
  nrpn(channel: number, msb: number, lsb: number): Message[];
  rpn(channel: number, msb: number, lsb: number): Message[];
  data(channel: number, value: number): Message[];
  pitchBend(channel: number, value: number): Message;
  control(channel: number, number: number, value: number): Message;
}

export const GENERAL_MIDI = JZZ.MIDI as unknown as GeneralMidi;
