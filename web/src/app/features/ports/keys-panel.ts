import { ChangeDetectionStrategy, Component, DestroyRef, inject, signal } from '@angular/core';
import { Switch } from '../../shared/ui/form';
import { Task, TaskFault } from '../../shared/ui/task';
import { Api, type KeysStanding } from '../../state/api';

/** How often it is looked whether the adapter is here, ms. */
const LOOK_EVERY_MS = 2_000;

/** The switch for key strokes, and how the adapter that presses them is started. */
@Component({
  selector: 'rondo-keys-panel',
  imports: [Switch, TaskFault],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Keys</h2>
    @if (standing(); as s) {
      <rondo-switch [on]="s.on" (turned)="set($event)">
        A key adapter may press keys for hosts that take only keys
      </rondo-switch>
      @if (s.on) {
        @if (s.adapter) {
          <p role="status">
            {{ s.adapter }} is here.
            @if (s.front !== null) {
              In front is “{{ s.front }}”.
            } @else {
              It cannot tell which program is in front, so keys go to whichever is.
            }
          </p>
        } @else {
          <p>
            No adapter is here. Start the one for your system in the folder
            <span class="mono">docs/keys</span>, with this token:
          </p>
          <p class="mono token">
            node docs/keys/{{ system }}.mjs --port {{ port }} --token {{ s.token }}
          </p>
        }
        <p>
          It presses only the strokes that hosts of the open profile list. Off and on makes another
          token.
        </p>
      } @else {
        <p>
          Off: no key of this computer is pressed. For a program that takes only keys, make a host
          whose messages are keys, as “keys Control+S”; a small program of yours, the adapter,
          presses them.
        </p>
      }
    }
    <rondo-task-fault [task]="setting" />
    @if (looking.fault(); as text) {
      <p role="alert">{{ text }} It is looked again by itself.</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
      justify-items: start;
    }
    h2 {
      font-size: 16px;
    }
    p {
      max-width: 640px;
      color: var(--ink-soft);
      line-height: 1.45;
    }
    .token {
      overflow-wrap: anywhere;
      color: var(--ink);
      user-select: all;
    }
  `,
})
export class KeysPanel {
  private readonly api = inject(Api);
  protected readonly standing = signal<KeysStanding | null>(null);
  protected readonly looking = new Task();
  protected readonly setting = new Task();
  protected readonly port = location.port || '80';
  protected readonly system = /Mac/.test(navigator.userAgent)
    ? 'macos'
    : /Windows/.test(navigator.userAgent)
      ? 'windows'
      : 'linux';

  constructor() {
    const look = () => void this.looking.run(async () => this.standing.set(await this.api.keys()));
    look();
    const timer = setInterval(look, LOOK_EVERY_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  protected set(on: boolean): void {
    void this.setting.run(async () => this.standing.set(await this.api.setKeys(on)));
  }
}
