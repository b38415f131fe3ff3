import { Injectable, inject, signal } from '@angular/core';
import { EngineService } from '../engine/engine.service';
import { Api, ApiError, type NetworkStanding } from './api';

/** Whether Rondo takes part in the local network. The engine is told, so that glasses find it. */
@Injectable({ providedIn: 'root' })
export class NetworkService {
  private readonly api = inject(Api);
  private readonly engine = inject(EngineService);
  readonly standing = signal<NetworkStanding | null>(null);
  readonly fault = signal('');

  async load(): Promise<void> {
    await this.do(() => this.api.network());
  }

  /** @param address of this machine at which glasses come in; null for all */
  async set(on: boolean, address: string | null): Promise<void> {
    await this.do(() => this.api.setNetwork(on, address));
    this.engine.retryNet();
  }

  private async do(ask: () => Promise<NetworkStanding>): Promise<void> {
    try {
      const standing = await ask();
      this.standing.set(standing);
      this.engine.net.openGlass(standing.on);
      this.fault.set('');
    } catch (error) {
      this.fault.set(
        error instanceof ApiError ? `${error.message} Try again.` : 'That did not work. Try again.',
      );
    }
  }
}
