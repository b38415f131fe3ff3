import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { chartMessage, nextRow, type HostRow, type MessageHost } from '@rondo/core/host';
import { heardRow, type HeardRow } from '@rondo/core/teach';
import { EngineService } from '../../engine/engine.service';
import { listenAll } from '../../engine/listen-all';

/** A control that lies still for this long, ms, has been moved. */
const REST_MS = 500;
/** So many messages of one movement are enough to tell what it is. */
const MOST_HEARD = 2_000;

interface Line {
  readonly t: number;
  readonly bytes: Uint8Array;
}

/** Takes rows from a device itself: what it sends while one of its controls is turned. */
@Component({
  selector: 'rondo-row-catcher',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-label="Rows from the device">
      <p role="status">{{ says() }}</p>
      <button type="button" (click)="done.emit()">Done</button>
    </section>
  `,
  styles: `
    section {
      display: flex;
      align-items: center;
      gap: 10px;
      margin-bottom: 8px;
      padding: 8px 12px;
      border: 2px solid var(--forward);
      border-radius: 6px;
      background: var(--raised);
    }
    p {
      flex: 1;
    }
    button {
      min-height: 28px;
      padding: 2px 10px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--sheet);
      cursor: pointer;
    }
  `,
})
export class RowCatcher {
  readonly host = input.required<MessageHost>();
  /** A row that was shown by the device. */
  readonly caught = output<HostRow>();
  readonly done = output();
  private readonly engine = inject(EngineService);
  private readonly heard = signal('');
  private readonly listening = signal(false);
  private lines: Line[] = [];
  private from = '';
  private rest: ReturnType<typeof setTimeout> | undefined;
  private isOpen = true;
  private end: (() => void) | null = null;

  protected readonly says = computed(() => {
    const state = this.engine.midi.state();
    if (state === 'refused')
      return 'The browser refused MIDI. Allow it in the site settings, or add rows by hand.';
    if (!this.listening())
      return state === 'asking' || state === 'not asked'
        ? 'Allow MIDI, so that the device can be heard.'
        : 'There is no MIDI here. Add rows by hand.';
    if (this.engine.midi.inputs().length === 0)
      return 'No MIDI input is there. Plug the device in, and turn one of its knobs.';
    return this.heard() || 'Turn one knob of the device, through all of its travel.';
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      this.isOpen = false;
      clearTimeout(this.rest);
      this.end?.();
    });
    void this.start();
  }

  private async start(): Promise<void> {
    this.end = await listenAll(
      this.engine,
      (id, bytes) => this.hear(id, bytes),
      () => this.isOpen,
    );
    this.listening.set(this.engine.midi.state().startsWith('granted'));
  }

  private hear(id: string, bytes: Uint8Array): void {
    // What beats or says only that it is there is nobody's hand.
    if (bytes[0] >= 0xf8) return;
    if (id !== this.from) this.lines = [];
    this.from = id;
    if (this.lines.length < MOST_HEARD)
      this.lines.push({ t: performance.now(), bytes: bytes.slice() });
    clearTimeout(this.rest);
    this.rest = setTimeout(() => this.judge(), REST_MS);
  }

  private judge(): void {
    const found = heardRow(this.lines);
    if (!found) {
      this.lines = [];
      this.heard.set('What came is nothing that a row can have. Turn another knob.');
    } else if ('ask' in found) this.heard.set(found.ask);
    else {
      this.lines = [];
      this.take(found);
    }
  }

  private take({ message, does }: HeardRow): void {
    const text = chartMessage(message);
    const known = this.host().rows.find((row) => chartMessage(row.message) === text);
    if (known) {
      this.heard.set(`${text} is ${known.name} already. Turn the next knob.`);
      return;
    }
    const row = nextRow(this.host());
    this.caught.emit({ ...row, message, kind: does });
    this.heard.set(`${text} is ${row.name} now: give it its name. Turn the next knob.`);
  }
}
