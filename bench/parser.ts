import { parseMidi } from 'midi-file';
import midimessage from 'midimessage';
import midiParser from 'midi-parser-js';
import { StreamParser, type MessageSink } from '@rondo/core/wire';
import { table, timed } from './report.js';

const MESSAGES = 300_000;

/** Every field of every message goes into the sum, so that no decoder can leave work out. */
const mix = (sum: number, kind: number, channel: number, one: number, two: number): number =>
  (Math.imul(sum, 31) + kind + channel * 3 + one * 5 + two * 7) | 0;

class Sum implements MessageSink {
  sum = 0;
  short(packed: number): void {
    this.sum = mix(
      this.sum,
      (packed >> 4) & 0xf,
      packed & 0xf,
      (packed >> 8) & 0x7f,
      (packed >> 16) & 0x7f,
    );
  }
  sysex(): void {
    this.sum = -1;
  }
}

/** Note, pressure, controller and bend messages in a fixed pseudo-random order, full status each. */
function traffic(): Uint8Array {
  let seed = 7;
  const next = (top: number) => {
    seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((seed / 2 ** 32) * top);
  };
  const bytes = new Uint8Array(MESSAGES * 3);
  for (let i = 0; i < MESSAGES; i++) {
    const kind = [0x80, 0x90, 0xa0, 0xb0, 0xe0][next(5)];
    // Velocity and number from 1 and below 120: no decoder renames these.
    bytes.set([kind | next(16), next(120), 1 + next(127)], i * 3);
  }
  return bytes;
}

function asTrack(bytes: Uint8Array): Uint8Array {
  const track = new Uint8Array(MESSAGES * 4 + 4);
  for (let i = 0; i < MESSAGES; i++) track.set(bytes.subarray(i * 3, i * 3 + 3), i * 4 + 1);
  track.set([0, 0xff, 0x2f, 0], MESSAGES * 4);
  const size = [24, 16, 8, 0].map((shift) => (track.length >> shift) & 0xff);
  const text = (word: string) => [...word].map((c) => c.charCodeAt(0));
  const head = [...text('MThd'), 0, 0, 0, 6, 0, 0, 0, 1, 0, 96, ...text('MTrk'), ...size];
  const file = new Uint8Array(head.length + track.length);
  file.set(head);
  file.set(track, head.length);
  return file;
}

/** Sum over what `midi-file` decoded. */
function sumOfFile(file: Uint8Array): number {
  let sum = 0;
  for (const event of parseMidi(file).tracks[0])
    switch (event.type) {
      case 'noteOff':
        sum = mix(sum, 8, event.channel, event.noteNumber, event.velocity);
        break;
      case 'noteOn':
        sum = mix(sum, 9, event.channel, event.noteNumber, event.velocity);
        break;
      case 'noteAftertouch':
        sum = mix(sum, 10, event.channel, event.noteNumber, event.amount);
        break;
      case 'controller':
        sum = mix(sum, 11, event.channel, event.controllerType, event.value);
        break;
      case 'pitchBend': {
        const value = event.value + 8_192;
        sum = mix(sum, 14, event.channel, value & 0x7f, value >> 7);
        break;
      }
    }
  return sum;
}

function sumOfParserJs(file: Uint8Array): number {
  let sum = 0;
  for (const event of midiParser.parse(file).track[0].event) {
    if (event.type === 255) continue;
    const [one, two] = Array.isArray(event.data)
      ? event.data
      : [event.data & 0x7f, event.data >> 7];
    sum = mix(sum, event.type, event.channel, one, two);
  }
  return sum;
}

function sumOfMessages(bytes: Uint8Array): number {
  let sum = 0;
  for (let at = 0; at < bytes.length; at += 3) {
    const m = midimessage({ data: bytes.subarray(at, at + 3), timeStamp: 0 });
    switch (m.messageType) {
      case 'noteoff':
        sum = mix(sum, 8, m.channel, m.key, m.velocity);
        break;
      case 'noteon':
        sum = mix(sum, 9, m.channel, m.key, m.velocity);
        break;
      case 'keypressure':
        sum = mix(sum, 10, m.channel, m.key, m.pressure);
        break;
      case 'controlchange':
        sum = mix(sum, 11, m.channel, m.controllerNumber, m.controllerValue);
        break;
      case 'pitchbendchange':
        // It joins the two bytes eight bits apart, so they are taken apart the same way.
        sum = mix(sum, 14, m.channel, m.pitchBend & 0xff, m.pitchBend >> 8);
        break;
    }
  }
  return sum;
}

/** Our stream parser against general packages of the registry, on the same messages. */
export function parsers(): void {
  const bytes = traffic();
  const file = asTrack(bytes);
  const ours = (): number => {
    const sink = new Sum();
    new StreamParser(sink).feed(bytes);
    return sink.sum;
  };
  const contestants: [string, () => number][] = [
    ['Rondo', ours],
    ['midi-file', () => sumOfFile(file)],
    ['midi-parser-js', () => sumOfParserJs(file)],
    ['midimessage', () => sumOfMessages(bytes)],
  ];
  const expected = ours();
  const rates = contestants.map(([name, work]) => {
    let agrees = true;
    let best = Infinity;
    const rounds = name === 'Rondo' ? 60 : 8;
    for (let n = 0; n < rounds; n++)
      best = Math.min(
        best,
        timed(() => {
          agrees &&= work() === expected;
        }),
      );
    return { name, rate: MESSAGES / best, agrees };
  });
  const fastest = Math.max(
    ...rates
      .slice(1)
      .filter((r) => r.agrees)
      .map((r) => r.rate),
  );
  table('Parser, messages a second (best of several; checksum over every field)', [
    ...rates.map(
      ({ name, rate, agrees }) =>
        [
          name,
          `${rate.toExponential(2)}  ${agrees ? 'same checksum' : 'OTHER CHECKSUM: not compared'}`,
        ] as const,
    ),
    ['ratio to the fastest other (at least 20)', (rates[0].rate / fastest).toFixed(1)],
  ]);
  if (!rates[0].agrees || !Number.isFinite(fastest)) process.exitCode = 1;
}
