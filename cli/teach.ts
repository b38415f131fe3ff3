import { Capture, infer, type Finding } from '@rondo/core/teach';
import { fromHex } from '@rondo/core/wire';
import { content, readMilliseconds } from './lines.js';

/** Finds out what the controls of a captured movement are. */
export class Teacher {
  /** Lines that could not be read. */
  badLines = 0;
  private lineNumber = 0;
  private readonly capture = new Capture();

  /** @param complain receives a sentence for each line that cannot be read */
  constructor(private readonly complain: (sentence: string) => void) {}

  /** Takes the next line, `milliseconds,hex bytes`. Empty lines are passed over. */
  take(text: string): void {
    this.lineNumber++;
    const line = content(text);
    if (line === null) return;
    const comma = line.indexOf(',');
    const t = comma < 0 ? null : readMilliseconds(line.slice(0, comma));
    const bytes = fromHex(line.slice(comma + 1));
    if (t === null || !bytes) {
      this.badLines++;
      this.complain(`Line ${this.lineNumber}: needs milliseconds, a comma and hex bytes.`);
      return;
    }
    this.capture.feed(t, bytes);
  }

  finish(): Finding[] {
    return infer(this.capture);
  }
}
