import { Injectable, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import type { SetUp } from '@rondo/core/profile';
import { EngineService } from '../engine/engine.service';
import { Api, ApiError, words } from './api';

/** Set-ups: kept by the server, switched here, in one go; what asks for one may be a menu, a key, or a control. */
@Injectable({ providedIn: 'root' })
export class SetUps {
  private readonly api = inject(Api);
  private readonly engine = inject(EngineService);
  private readonly router = inject(Router);
  /** Null until they are there. */
  readonly all = signal<readonly SetUp[] | null>(null);
  /** The one that was gone to last. */
  readonly last = this.engine.setUp.asReadonly();
  readonly message = signal('');
  /** Ids of all that are kept, also of those that cannot be read here; null until they are known. */
  readonly ids = signal<ReadonlySet<string> | null>(null);

  constructor() {
    this.engine.setUpWished = (id) => void this.goTo(id);
    // Also where it was said in another window: whoever plays has it open.
    this.engine.setUpPlayed = ({ profile }) => void this.open(profile);
  }

  load(): Promise<void> {
    return this.do(() => this.look());
  }

  /** Keeps how a profile is played now under a name. */
  keep(profile: string, name: string): Promise<void> {
    return this.do(async () => {
      const setUp: SetUp = {
        format: 'rondo-setup',
        version: 1,
        id: `u-${crypto.randomUUID()}`,
        name,
        profile,
        ...this.playedNow(),
      };
      await this.api.addSetUp(setUp);
      this.engine.setUp.set(setUp.id);
      await this.look();
    });
  }

  /** Takes how it is played now over what a set-up had. */
  renew(setUp: SetUp): Promise<void> {
    return this.do(async () => {
      await this.api.changeSetUp({ ...setUp, ...this.playedNow() });
      await this.look();
    });
  }

  private async look(): Promise<void> {
    const { all, ids } = await this.api.setUps();
    this.all.set(all);
    this.ids.set(new Set(ids));
  }

  private playedNow() {
    const now = this.engine.playedNow;
    if (now) return now;
    const name = this.engine.otherProfile()?.name;
    throw new ApiError(
      'refused',
      name === undefined
        ? 'Nothing was kept: the window that plays does not answer. Close it, or load it again.'
        : `Nothing was kept: the window that plays has “${name}” open. Open this profile there first.`,
    );
  }

  /** Puts a set-up into the bin. */
  remove(id: string): Promise<void> {
    return this.do(async () => {
      await this.api.removeSetUp(id);
      await this.look();
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
    await this.engine.goOver(setUp);
    if (!this.engine.workers.isPlaying) await this.open(setUp.profile);
  }

  /** Where it is open there is nothing to open. */
  private async open(profile: string): Promise<void> {
    if (this.engine.playing !== profile) await this.router.navigate(['/bind', profile]);
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
