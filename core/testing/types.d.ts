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

declare module 'midi-parser-js' {
  interface ParsedEvent {
    type: number;
    channel: number;
    data: number | number[];
  }
  const parser: { parse(bytes: Uint8Array): { track: { event: ParsedEvent[] }[] } };
  export default parser;
}

declare module 'midimessage' {
  interface Parsed {
    messageType: string;
    channel: number;
    key: number;
    velocity: number;
    pressure: number;
    controllerNumber: number;
    controllerValue: number;
    pitchBend: number;
  }
  export default function midimessage(event: { data: Uint8Array; timeStamp: number }): Parsed;
}

declare module '@webref/idl' {
  const idl: { parseAll(): Promise<Record<string, import('webidl2').Definition[]>> };
  export default idl;
}

declare module 'webidl2' {
  export interface Definition {
    type: string;
    name: string;
    inheritance?: string | null;
    members: { type: string; name?: string }[];
  }
}
