import { Injectable, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import type { SetUp } from '@rondo/core/profile';
import { EngineService } from '../engine/engine.service';
import { Api, words } from './api';

const LAST = 'rondo.setup.last';

function lastOne(): string | null {
  try {
    return localStorage.getItem(LAST);
  } catch {
    return null;
  }
}

/** Set-ups: kept by the server, switched here, in one go; what asks for one may be a menu, a key, or a control. */
@Injectable({ providedIn: 'root' })
export class SetUps {
  private readonly api = inject(Api);
  private readonly engine = inject(EngineService);
  private readonly router = inject(Router);
  /** Null until they are there. */
  readonly all = signal<readonly SetUp[] | null>(null);
  /** The one that was gone to last. */
  readonly last = signal(lastOne());
  readonly message = signal('');

  constructor() {
    this.engine.setUpWished = (id) => void this.goTo(id);
  }

  load(): Promise<void> {
    return this.do(async () => this.all.set(await this.api.setUps()));
  }

  /** Keeps how a profile is played now under a name. */
  keep(profile: string, name: string): Promise<void> {
    const setUp: SetUp = {
      format: 'rondo-setup',
      version: 1,
      id: `u-${crypto.randomUUID()}`,
      name,
      profile,
      ...this.engine.playedNow,
    };
    return this.do(async () => {
      await this.api.addSetUp(setUp);
      this.remember(setUp.id);
      this.all.set(await this.api.setUps());
    });
  }

  /** Takes how it is played now over what a set-up had. */
  renew(setUp: SetUp): Promise<void> {
    return this.do(async () => {
      await this.api.changeSetUp({ ...setUp, ...this.engine.playedNow });
      this.all.set(await this.api.setUps());
    });
  }

  /** Puts a set-up into the bin. */
  remove(id: string): Promise<void> {
    return this.do(async () => {
      await this.api.removeSetUp(id);
      this.all.set(await this.api.setUps());
    });
  }

  /** Goes over to a set-up, and to its profile. */
  async goTo(id: string): Promise<void> {
    if (!this.all()) await this.load();
    const setUp = this.all()?.find((one) => one.id === id);
    if (!setUp) {
      this.message.set('This set-up is not there any more. It may be in the bin, under Profiles.');
      return;
    }
    this.message.set('');
    this.remember(id);
    this.engine.play(setUp);
    // Where it plays there is nothing to open.
    if (this.engine.playing !== setUp.profile) await this.router.navigate(['/bind', setUp.profile]);
  }

  private remember(id: string): void {
    this.last.set(id);
    try {
      localStorage.setItem(LAST, id);
    } catch {
      // A full or forbidden store only means that it is not marked next time.
    }
  }

  private async do(work: () => Promise<void>): Promise<void> {
    try {
      await work();
      this.message.set('');
    } catch (error) {
      this.message.set(words(error));
    }
  }
}
