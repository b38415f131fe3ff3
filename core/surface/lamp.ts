import type { Pattern } from './pattern.js';
import { MAX_VALUE_BYTES, Sender } from './sender.js';
import { takesOf, type Control, type OutputPart, type Surface } from './surface.js';

/** Something of a surface that can be lit to see which output it hangs on. */
export interface Lamp {
  readonly control: Control;
  readonly part: OutputPart;
  readonly on: Uint8Array;
  readonly off: Uint8Array;
  /** It is lit by a note, which on a synth behind another output would sound: never to be sent blindly. */
  readonly isNote: boolean;
}

const SHOWN = 'RONDO';

/** The harmless first: SysEx under the device's own header, then controllers; notes last. */
const HARM: Partial<Record<Pattern['type'], number>> = {
  text: 0,
  sysex: 1,
  ring: 2,
  controller: 3,
  controllerPair: 4,
  note: 9,
};
const LIT: readonly OutputPart[] = ['upper', 'ring', 'light'];

/** The lamp of a surface by which to find its output; null where nothing on it can be lit. */
export function searchLamp(surface: Surface): Lamp | null {
  const lamps = surface.controls.flatMap((control) =>
    LIT.flatMap((part) => {
      const pattern = takesOf(surface, control)[part];
      const harm = pattern && HARM[pattern.type];
      return pattern && harm !== undefined ? [{ control, part, pattern, harm }] : [];
    }),
  );
  lamps.sort((a, b) => a.harm - b.harm);
  const [best] = lamps;
  if (!best) return null;
  const sender = new Sender([best.pattern]);
  const write = (on: boolean): Uint8Array => {
    const bytes = new Uint8Array(MAX_VALUE_BYTES);
    const length =
      best.pattern.type === 'text'
        ? sender.writeText(0, sender.fit(0, on ? SHOWN : ''), bytes, 0)
        : sender.write(0, sender.wire(0, on ? 1 : best.part === 'ring' ? -1 : 0), bytes, 0);
    return bytes.slice(0, length);
  };
  return {
    control: best.control,
    part: best.part,
    on: write(true),
    off: write(false),
    isNote: best.pattern.type === 'note',
  };
}
