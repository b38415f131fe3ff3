import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  inject,
  input,
  signal,
} from '@angular/core';
import { readOscMessage } from '@rondo/core/wire';
import { EngineService } from '../../engine/engine.service';
import type { ProfileLink } from '../../engine/profile-links';

const LINES = 12;
const CLOCK = new Intl.DateTimeFormat('en-GB', { timeStyle: 'medium' });

interface Line {
  readonly id: number;
  readonly time: string;
  readonly whose: string;
  readonly address: string;
  readonly says: string;
}

/** The OSC messages that came last, the newest first, once a frame. */
@Component({
  selector: 'rondo-osc-log',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>OSC</h2>
    <ul aria-label="OSC messages, the newest first">
      @for (line of lines(); track line.id) {
        <li>
          <span class="quiet">{{ line.time }}</span>
          <span>{{ line.whose }}</span>
          <span class="mono">{{ line.address }}</span>
          <span class="mono">{{ line.says }}</span>
        </li>
      } @empty {
        <li class="quiet">Nothing has come by OSC yet.</li>
      }
    </ul>
  `,
  styles: `
    h2 {
      font-size: 16px;
      margin-bottom: 6px;
    }
    ul {
      list-style: none;
      margin: 6px 0 0;
      padding: 0;
      border-top: 1px solid var(--line);
    }
    li {
      display: grid;
      grid-template-columns: 76px minmax(70px, 0.7fr) 1.3fr 1fr;
      gap: 12px;
      padding: 3px 0;
      border-bottom: 1px solid var(--line);
      font-size: 13px;
    }
    li:only-child.quiet {
      display: block;
      padding: 12px 0;
    }
    span {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .quiet {
      color: var(--ink-soft);
    }
  `,
})
export class OscLog {
  readonly links = input.required<readonly ProfileLink[]>();
  protected readonly lines = signal<readonly Line[]>([]);
  private waiting: Line[] = [];
  private count = 0;
  private shown = 0;

  constructor() {
    const stop = inject(EngineService).net.watchOsc((link, bytes, at) =>
      this.hear(link, bytes, at),
    );
    inject(DestroyRef).onDestroy(() => {
      stop();
      cancelAnimationFrame(this.shown);
    });
  }

  private hear(link: string, bytes: Uint8Array, at: number): void {
    const whose = this.links().find((one) => one.link === link)?.label;
    if (whose === undefined) return;
    const message = readOscMessage(bytes);
    const values = message?.values.map((value) =>
      typeof value === 'number' ? String(Math.round(value * 1_000) / 1_000) : String(value),
    );
    this.waiting.unshift({
      id: this.count++,
      time: CLOCK.format(at),
      whose,
      address: message?.address ?? 'not well formed',
      says: values?.join('  ') ?? '',
    });
    this.waiting.length = Math.min(this.waiting.length, LINES);
    if (this.shown === 0)
      this.shown = requestAnimationFrame(() => {
        this.shown = 0;
        this.lines.update((lines) => [...this.waiting, ...lines].slice(0, LINES));
        this.waiting = [];
      });
  }
}
