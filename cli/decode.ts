import { StreamParser, fromHex, toHex, unpack, type MidiMessage } from '@rondo/core/wire';
import { content, readMilliseconds } from './lines.js';

/** Longest SysEx that a decoded stream may hold, in bytes. */
const SYSEX_LIMIT = 16 << 20;

interface Line {
  readonly t?: number;
  readonly port?: string;
  readonly bytes: Uint8Array;
}

/**
 * Reads one line: `hex bytes`, or `milliseconds,port,hex bytes`.
 * @returns what it says, or in a few words why it cannot be read
 */
export function readLine(line: string): Line | string {
  const first = line.indexOf(',');
  if (first < 0) {
    const bytes = fromHex(line);
    return bytes ? { bytes } : 'not hex bytes';
  }
  const last = line.lastIndexOf(',');
  if (last === first) return 'needs milliseconds, port and hex bytes';
  const t = readMilliseconds(line.slice(0, first));
  if (t === null) return 'the milliseconds are not a number';
  const port = line.slice(first + 1, last).trim();
  if (port === '') return 'the port is missing';
  const bytes = fromHex(line.slice(last + 1));
  return bytes ? { t, port, bytes } : 'not hex bytes';
}

function readable(message: MidiMessage): object {
  return message.type === 'sysex' ? { ...message, bytes: toHex(message.bytes) } : message;
}

/** Decodes captured lines, each port as one continuous stream. */
export class Decoder {
  /** Lines that could not be read. */
  badLines = 0;
  private lineNumber = 0;
  private line: Line = { bytes: new Uint8Array(0) };
  private readonly parsers = new Map<string | undefined, StreamParser>();

  /**
   * @param print receives each message as a line of JSON
   * @param complain receives a sentence for each line that cannot be read
   */
  constructor(
    private readonly print: (json: string) => void,
    private readonly complain: (sentence: string) => void,
  ) {}

  /** Takes the next line. Empty lines are passed over. */
  take(text: string): void {
    this.lineNumber++;
    const trimmed = content(text);
    if (trimmed === null) return;
    const line = readLine(trimmed);
    if (typeof line === 'string') {
      this.badLines++;
      this.complain(`Line ${this.lineNumber}: ${line}.`);
      return;
    }
    this.line = line;
    this.parserOf(line.port).feed(line.bytes);
  }

  private parserOf(port: string | undefined): StreamParser {
    let parser = this.parsers.get(port);
    if (!parser) {
      const say = (message: MidiMessage) => {
        const { t, port: name } = this.line;
        this.print(JSON.stringify({ t, port: name, ...readable(message) }));
      };
      parser = new StreamParser(
        {
          short: (packed) => say(unpack(packed)),
          sysex: (bytes, from, to) => say({ type: 'sysex', bytes: bytes.subarray(from, to) }),
        },
        SYSEX_LIMIT,
      );
      this.parsers.set(port, parser);
    }
    return parser;
  }
}
