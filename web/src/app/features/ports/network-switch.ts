import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Choice, Switch } from '../../shared/ui/form';
import { NetworkService } from '../../state/network';

/** Whether other devices of the local network may reach Rondo: it says what that opens before it does. */
@Component({
  selector: 'rondo-network-switch',
  imports: [Choice, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Network</h2>
    @if (standing(); as s) {
      <rondo-switch [on]="s.on" (turned)="set($event, s.address)">
        Other devices of the network may speak OSC and show surfaces
      </rondo-switch>
      @if (s.on) {
        <p>
          Open in the local network: the UDP ports of OSC links, for the addresses that each link
          lists, and a page for surfaces on glass, for devices that you let in. Everything else of
          Rondo stays on this computer.
          @if (s.addresses.length > 0) {
            This computer is <b>{{ s.addresses.join(' or ') }}</b>.
          } @else {
            This computer is in no network just now.
          }
          Neither is encrypted: switch it on in networks that you trust.
        </p>
        @if (s.addresses.length > 1) {
          <p>
            Glass comes in at
            <rondo-choice
              label="Address at which glass comes in"
              [options]="places()"
              [value]="s.address ?? ''"
              (chosen)="set(true, $event)"
            />
          </p>
        }
      } @else {
        <p>
          Off: only programs on this computer speak with Rondo. Switched on, two things are open in
          the local network, and nothing else: the UDP ports of OSC links, for the addresses that
          each link lists, and a page for surfaces on glass, for devices that you let in.
        </p>
      }
    }
    @if (fault(); as text) {
      <p role="alert">{{ text }}</p>
    }
  `,
  styles: `
    h2 {
      font-size: 16px;
      margin-bottom: 6px;
    }
    p {
      max-width: 620px;
      margin-top: 4px;
      color: var(--ink-soft);
      line-height: 1.45;
    }
  `,
})
export class NetworkSwitch {
  private readonly network = inject(NetworkService);
  protected readonly standing = this.network.standing;
  protected readonly fault = this.network.fault;
  protected readonly places = computed(() => [
    { value: '', label: 'any address of this computer' },
    ...(this.standing()?.addresses ?? []).map((value) => ({ value, label: value })),
  ]);

  constructor() {
    void this.network.load();
  }

  protected set(on: boolean, address: string | null): void {
    void this.network.set(on, address || null);
  }
}
