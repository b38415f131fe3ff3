import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { EngineService } from '../../engine/engine.service';
import { Switch } from '../../shared/ui/form';
import { Api, ApiError, type NetworkStanding } from '../../state/api';

/** Whether other devices of the local network may speak OSC with Rondo: it says what that opens before it does. */
@Component({
  selector: 'rondo-network-switch',
  imports: [Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Network</h2>
    @if (standing(); as s) {
      <rondo-switch [on]="s.on" (turned)="set($event)">
        Other devices may speak OSC with Rondo
      </rondo-switch>
      @if (s.on) {
        <p>
          The UDP ports of OSC links are open in the local network, for the addresses that each link
          lists. Everything else of Rondo stays on this computer.
          @if (s.addresses.length > 0) {
            A device sends to <b>{{ s.addresses.join(' or ') }}</b>.
          } @else {
            This computer is in no network just now.
          }
          OSC is not encrypted: switch it on in networks that you trust.
        </p>
      } @else {
        <p>
          Off: only programs on this computer speak OSC with Rondo. Switched on, the UDP ports of
          OSC links are open in the local network, for the addresses that each link lists, and for
          nothing else.
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
  private readonly api = inject(Api);
  private readonly engine = inject(EngineService);
  protected readonly standing = signal<NetworkStanding | null>(null);
  protected readonly fault = signal('');

  constructor() {
    void this.do(() => this.api.network());
  }

  protected async set(on: boolean): Promise<void> {
    await this.do(() => this.api.setNetwork(on));
    this.engine.retryNet();
  }

  private async do(ask: () => Promise<NetworkStanding>): Promise<void> {
    try {
      this.standing.set(await ask());
      this.fault.set('');
    } catch (error) {
      this.fault.set(
        error instanceof ApiError ? `${error.message} Try again.` : 'That did not work. Try again.',
      );
    }
  }
}
