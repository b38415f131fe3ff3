import { Injectable, computed, inject } from '@angular/core';
import { Store } from '@ngrx/store';
import { profileFeature } from '../../../state/document';
import { LibraryService } from '../../../state/library';
import { Workbench } from '../workbench';

/** The hosts of the profile, and which of them is shown. */
@Injectable()
export class HostsShown {
  private readonly library = inject(LibraryService);
  private readonly bench = inject(Workbench);
  private readonly profile = inject(Store).selectSignal(profileFeature.selectDocument);

  readonly all = computed(() => {
    const profile = this.profile();
    return (profile?.hostOrder ?? []).flatMap((id) => {
      const model = profile && this.library.hostOf(profile, id);
      return model ? [{ id, label: profile.hosts[id].label, model }] : [];
    });
  });
  readonly choices = computed(() => this.all().map(({ id, label }) => ({ value: id, label })));
  /** Which of several hosts is shown. */
  readonly shown = computed(
    () => this.all().find(({ id }) => id === this.bench.hostShown()) ?? this.all().at(0),
  );
}
