import type { Pattern } from '@rondo/core/surface';

/*
 * OSC messages as a simulated device or program reads and writes them, by OSC 1.0 itself and not by what the engine reads
 * and writes by. Each has its length before it, as in a stream.
 */

export type OscPattern = Extract<Pattern, { type: 'osc' }>;

/** What a message of a stream says: its address and its arguments, as far as it has such. */
export interface OscSaid {
  readonly address: string;
  readonly args: readonly (number | string)[];
}

const viewOf = (bytes: Uint8Array): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** A text of a message and where the next thing begins: zeros fill it up to four bytes, one at least. */
function textAt(bytes: Uint8Array, at: number): [text: string, next: number] {
  let end = at;
  while (end < bytes.length && bytes[end] !== 0) end++;
  return [String.fromCharCode(...bytes.subarray(at, end)), end + 4 - ((end - at) % 4)];
}

/** The messages of a stretch that holds whole ones. */
export function* oscIn(bytes: Uint8Array, from: number, to: number): Generator<OscSaid> {
  const view = viewOf(bytes);
  for (let at = from; at + 4 <= to;) {
    const end = at + 4 + view.getUint32(at);
    const [address, tagsAt] = textAt(bytes, at + 4);
    const [tags, firstAt] = tagsAt < end ? textAt(bytes, tagsAt) : ['', end];
    const args: (number | string)[] = [];
    let next = firstAt;
    for (const tag of tags.slice(1)) {
      if (tag === 'T' || tag === 'I') args.push(1);
      else if (tag === 'F' || tag === 'N') args.push(0);
      else if (tag === 's') {
        const [text, after] = textAt(bytes, next);
        args.push(text);
        next = after;
      } else if (tag === 'h' || tag === 'd') {
        args.push(tag === 'd' ? view.getFloat64(next) : Number(view.getBigInt64(next)));
        next += 8;
      } else {
        args.push(tag === 'i' ? view.getInt32(next) : view.getFloat32(next));
        next += 4;
      }
    }
    yield { address, args };
    at = end;
  }
}

const padded = (text: string): number[] => {
  const codes = Array.from(text, (sign) => sign.charCodeAt(0));
  return [...codes, ...new Array<number>(4 - (codes.length % 4)).fill(0)];
};

const TAGS: Readonly<Record<OscPattern['as'], string>> = {
  float: 'f',
  integer: 'i',
  boolean: 'T',
  string: 's',
  double: 'd',
  long: 'h',
};

/** The numbers that a pattern goes through, as its description has them. */
export function oscEnds({ as, low, high }: OscPattern): [low: number, high: number] {
  const top = as === 'integer' || as === 'long' ? 127 : 1;
  return [low ?? 0, high ?? top];
}

/** Writes a message of arguments, each as its pattern has it; returns its bytes. */
export function sayOsc(
  args: readonly (readonly [pattern: OscPattern, said: number | string])[],
  into: Uint8Array,
  at: number,
): number {
  const data: number[] = [];
  let tags = ',';
  const put = (size: number, write: (view: DataView) => void) => {
    const view = new DataView(new ArrayBuffer(size));
    write(view);
    for (let i = 0; i < size; i++) data.push(view.getUint8(i));
  };
  for (const [pattern, said] of args) {
    const [low, high] = oscEnds(pattern);
    const number = low + (high - low) * Number(said);
    if (pattern.as === 'boolean') tags += Number(said) < 0.5 ? 'F' : 'T';
    else {
      tags += TAGS[pattern.as];
      if (pattern.as === 'string') data.push(...padded(String(said)));
      else if (pattern.as === 'integer') put(4, (view) => view.setInt32(0, Math.round(number)));
      else if (pattern.as === 'long')
        put(8, (view) => view.setBigInt64(0, BigInt(Math.round(number))));
      else if (pattern.as === 'double') put(8, (view) => view.setFloat64(0, number));
      else put(4, (view) => view.setFloat32(0, number));
    }
  }
  const message = [...padded(args[0][0].address), ...padded(tags), ...data];
  const length = message.length;
  into.set([length >> 24, (length >> 16) & 255, (length >> 8) & 255, length & 255, ...message], at);
  return length + 4;
}
