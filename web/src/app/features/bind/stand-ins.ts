import { Injectable, inject, signal } from '@angular/core';
import { expectedBy } from '@rondo/core/host';
import { proposeStandIn, setStandsIn } from '@rondo/core/profile';
import type { Surface } from '@rondo/core/surface';
import { LibraryService } from '../../state/library';
import { Workbench } from './workbench';

/** Which surfaces stand in for what a host's program expects. */
@Injectable()
export class StandIns {
  private readonly bench = inject(Workbench);
  private readonly library = inject(LibraryService);
  /** The surface of which it is said what it stands in for. */
  readonly of = signal('');

  /** The surfaces, unit by unit, that a host's program expects; none where it expects none. */
  expectedOf(host: string): Surface[] {
    const profile = this.bench.profile();
    if (!profile || !Object.hasOwn(profile.hosts, host)) return [];
    return (expectedBy(profile.hosts[host].model) ?? []).flatMap(
      (id) => this.library.surface(id) ?? [],
    );
  }

  /** Lets a surface stand in for what a host's program expects, as Rondo proposes it, and shows it. */
  letStandIn(id: string, host: string): void {
    const surface = this.bench.surfaceOf(id);
    const expected = this.expectedOf(host);
    if (!surface || expected.length === 0) return;
    this.bench.edit((profile) =>
      setStandsIn(profile, id, proposeStandIn(profile, id, surface, host, expected)),
    );
    this.bench.hostShown.set(host);
    this.open(id);
  }

  open(id: string): void {
    this.of.set(id);
    this.bench.panel.set('standIn');
  }
}
