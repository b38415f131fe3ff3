import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  inject,
  input,
  signal,
} from '@angular/core';
import { Button } from 'primeng/button';
import { encode } from 'uqr';
import type { Profile } from '@rondo/core/profile';
import { Api, type GlassCode, type GlassStanding } from '../../state/api';
import { LibraryService } from '../../state/library';
import { NetworkService } from '../../state/network';
import { Choice } from '../../shared/ui/form';
import { Task, TaskFault } from '../../shared/ui/task';

/** How often it is looked who is there, ms. */
const LOOK_EVERY_MS = 2_000;

/** Surfaces of the profile on phones and tablets: one is let in by a code, and sent away again. */
@Component({
  selector: 'rondo-glass-panel',
  imports: [Button, Choice, TaskFault],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>On glass</h2>
    @if (network.standing()?.on !== true) {
      <p>
        A phone or tablet of the local network can show a surface and play it. Switch the network on
        above first.
      </p>
    } @else if (standing()?.fault) {
      <p role="alert">{{ standing()?.fault }}</p>
    } @else {
      <p>
        Choose a surface, then open the address below on a phone or tablet of this network, or show
        its camera the code. It is let in once and remembered.
      </p>
      <rondo-choice
        label="Surface to show on glass"
        placeholder="Show on glass …"
        [options]="surfaces()"
        [value]="isOver() ? null : (shown()?.surface ?? null)"
        (chosen)="show($event)"
      />
      @if (isOver()) {
        <p role="status">
          This code has been used, or its time is over. Choose the surface again for a new one.
        </p>
      } @else if (shown(); as s) {
        <div class="code">
          <svg
            role="img"
            aria-label="The address as a code for a camera"
            [attr.viewBox]="'0 0 ' + s.size + ' ' + s.size"
          >
            <path [attr.d]="s.dots" />
          </svg>
          <p>
            Open
            @for (address of s.addresses; track address) {
              <b class="mono">{{ address }}</b>
            }
            The code is good for five minutes, for one device.
            <br />
            The link is not encrypted, and the device’s screen may go to sleep by itself.
          </p>
        </div>
      }
    }
    @if (devices().length > 0) {
      <ul aria-label="Devices that were let in">
        @for (device of devices(); track device.id) {
          <li>
            <span class="lamp" [class.lit]="device.isHere" aria-hidden="true"></span>
            <span>
              <b>{{ device.name }}</b>
              <small
                >{{ nameOf(device.surface) }} · {{ device.isHere ? 'here now' : 'not here' }}</small
              >
            </span>
            <p-button
              label="Send away"
              size="small"
              severity="secondary"
              [outlined]="true"
              [ariaLabel]="'Send ' + device.name + ' away'"
              (onClick)="sendAway(device.id)"
            />
          </li>
        }
      </ul>
    }
    <rondo-task-fault [task]="letting" />
    <rondo-task-fault [task]="sending" />
    @if (looking.fault(); as text) {
      <p role="alert">{{ text }} It is looked again by itself.</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
      justify-items: start;
    }
    h2 {
      font-size: 16px;
    }
    p,
    small {
      color: var(--ink-soft);
      line-height: 1.45;
    }
    p {
      max-width: 620px;
    }
    small {
      display: block;
    }
    .code {
      display: grid;
      grid-template-columns: 168px minmax(0, 1fr);
      align-items: center;
      gap: 16px;
    }
    .code svg {
      width: 168px;
      height: 168px;
      background: var(--code-paper);
      border-radius: 6px;
    }
    .code b {
      display: block;
      overflow-wrap: anywhere;
      color: var(--ink);
    }
    ul {
      width: 100%;
      list-style: none;
      margin: 0;
      padding: 0;
      border-top: 1px solid var(--line);
    }
    li {
      display: grid;
      grid-template-columns: 16px minmax(0, 1fr) auto;
      align-items: center;
      gap: 12px;
      min-height: 48px;
      border-bottom: 1px solid var(--line);
    }
    .lamp {
      width: 14px;
      height: 14px;
      border: 1.5px solid var(--line-strong);
      border-radius: 50%;
    }
    .lamp.lit {
      background: var(--forward);
      border-color: var(--forward);
    }
  `,
})
export class GlassPanel {
  readonly profile = input.required<Profile>();
  protected readonly network = inject(NetworkService);
  private readonly api = inject(Api);
  private readonly library = inject(LibraryService);
  protected readonly standing = signal<GlassStanding | null>(null);
  private readonly code = signal<(GlassCode & { readonly surface: string }) | null>(null);
  protected readonly looking = new Task();
  protected readonly letting = new Task();
  protected readonly sending = new Task();
  protected readonly devices = computed(() => this.standing()?.devices ?? []);
  protected readonly surfaces = computed(() => {
    const profile = this.profile();
    return profile.surfaceOrder.map((id) => ({
      value: profile.surfaces[id].model,
      label: profile.surfaces[id].label,
    }));
  });
  /** The code that was made here lets nobody in any more. */
  protected readonly isOver = computed(() => {
    const [code, standing] = [this.code(), this.standing()];
    return code !== null && standing !== null && !standing.codes.includes(code.id);
  });
  /** The address that lets a device in, and its code for cameras as a path of squares. */
  protected readonly shown = computed(() => {
    const code = this.code();
    const standing = this.standing();
    const network = this.network.standing();
    if (!code || !standing?.isOpen || !network) return null;
    const hosts = network.address === null ? network.addresses : [network.address];
    const addresses = (hosts.length > 0 ? hosts : ['127.0.0.1']).map(
      (host) => `http://${host}:${standing.port}/#${code.code}`,
    );
    const { data, size } = encode(addresses[0], { border: 2 });
    const dots = data.flatMap((row, y) =>
      row.flatMap((isDark, x) => (isDark ? [`M${x} ${y}h1v1h-1z`] : [])),
    );
    return { surface: code.surface, addresses, size, dots: dots.join('') };
  });

  constructor() {
    void this.look();
    const timer = setInterval(() => void this.look(), LOOK_EVERY_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  protected nameOf(surface: string): string {
    return this.library.surface(surface)?.name ?? 'a surface that is gone';
  }

  protected async show(surface: string): Promise<void> {
    await this.letting.run(async () => {
      const code = await this.api.glassCode(surface);
      // Looked at first: what was known of codes is older than this one.
      await this.look();
      this.code.set({ ...code, surface });
    });
  }

  protected async sendAway(id: string): Promise<void> {
    await this.sending.run(() => this.api.sendGlassAway(id));
    await this.look();
  }

  private look(): Promise<unknown> {
    return this.looking.run(async () => this.standing.set(await this.api.glass()));
  }
}
