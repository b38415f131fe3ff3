import { soundAt, type Record as Disc } from '@rondo/core/host';

/** Beats that a waveform shows before and after the place that plays. */
const BEATS_SHOWN = 8;

/** What a waveform is painted in. */
export interface WaveColours {
  readonly wave: string;
  readonly line: string;
}

/**
 * A record around the place that plays: one line in two pixels, as loud as it is there.
 * @param record none leaves it empty
 * @param beat the place, from the record's beginning
 */
export function drawWave(
  canvas: HTMLCanvasElement,
  record: Disc | undefined,
  beat: number,
  colours: WaveColours,
): void {
  const context = canvas.getContext('2d');
  if (!context) return;
  const { width, height } = canvas;
  context.clearRect(0, 0, width, height);
  if (!record) return;
  context.fillStyle = colours.wave;
  for (let x = 0; x < width; x += 2) {
    const at = beat + (x / width - 0.5) * 2 * BEATS_SHOWN;
    const [voice, drums, bass, keys, rest] = soundAt(record, at);
    const tall = Math.min(1, voice + drums + bass * 0.6 + (keys + rest) * 0.4) * (height - 2);
    context.fillRect(x, (height - tall) / 2, 1.4, tall);
  }
  context.fillStyle = colours.line;
  context.fillRect(width / 2 - 0.75, 0, 1.5, height);
}
