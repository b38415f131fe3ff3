declare module 'midi-file' {
  interface Common {
    deltaTime: number;
    channel: number;
  }
  export type MidiFileEvent =
    | (Common & { type: 'noteOn' | 'noteOff'; noteNumber: number; velocity: number; byte9?: true })
    | (Common & { type: 'noteAftertouch'; noteNumber: number; amount: number })
    | (Common & { type: 'controller'; controllerType: number; value: number })
    | (Common & { type: 'programChange'; programNumber: number })
    | (Common & { type: 'channelAftertouch'; amount: number })
    | (Common & { type: 'pitchBend'; value: number })
    | { deltaTime: number; type: 'endOfTrack' };
  export function parseMidi(bytes: Uint8Array): { tracks: MidiFileEvent[][] };
}
