import { DatePipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { edit } from '@rondo/core/document';
import { changeSummary, isOrder, profileDifferences } from '@rondo/core/formats';
import type { Surface } from '@rondo/core/surface';
import {
  bindingsThen,
  bringControlBack,
  controlsThatDiffer,
  type Profile,
} from '@rondo/core/profile';
import { Api, words, type Version } from '../../../state/api';
import { profileFeature } from '../../../state/document';
import { LibraryService } from '../../../state/library';
import { Choice } from '../../../shared/ui/form';
import { Task, TaskFault } from '../../../shared/ui/task';
import { PanelHead } from './panel-head';
import { Workbench } from '../workbench';

/** As many differences are told at once. */
const MOST_TOLD = 40;
/** Of as many versions at once it is said what they changed. */
const MOST_SAID = 30;
/** Saves that are no further apart belong to one sitting, ms. */
const SITTING_MS = 30 * 60_000;

const TIME = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'medium' });

/** What was saved of the profile, by day and sitting: looked at on the drawing, named, and brought back. */
@Component({
  selector: 'rondo-versions-panel',
  imports: [Button, Choice, DatePipe, PanelHead, TaskFault],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './versions-panel.html',
  styleUrls: ['../../../shared/ui/panel.css', './versions-panel.css'],
})
export class VersionsPanel {
  private readonly bench = inject(Workbench);
  private readonly api = inject(Api);
  private readonly library = inject(LibraryService);
  private readonly opened = inject(Store).selectSignal(profileFeature.selectProfileState);
  private readonly saved = computed(() => this.opened().revision);
  protected readonly most = MOST_TOLD;
  protected readonly message = signal('');
  protected readonly versions = signal<readonly Version[]>([]);
  /** What was changed from the version before, by revision. */
  protected readonly changes = signal<ReadonlyMap<number, string>>(new Map());
  protected readonly isTelling = signal(false);
  private isGone = false;
  protected readonly looked = signal<{ version: Version; profile: Profile } | null>(null);
  /** What the one that is looked at is compared with, where that is not the profile as it is now. */
  protected readonly other = signal<{ version: Version; profile: Profile } | null>(null);
  protected readonly others = computed(() => [
    { value: 0, label: 'what is now' },
    ...this.versions()
      .filter(({ revision }) => revision !== this.looked()?.version.revision)
      .map(({ revision, label, savedAt }) => ({
        value: revision,
        label: label ?? TIME.format(new Date(savedAt)),
      })),
  ]);
  /** The control that was clicked, where it did something else then than it does now. */
  protected readonly inHand = computed(() => {
    const now = this.bench.profile();
    const then = this.looked()?.profile;
    const selected = this.bench.selected();
    if (!now || !then || !selected || !Object.hasOwn(now.surfaces, selected.surface)) return null;
    const { there, lost } = bindingsThen(now, then, selected);
    const differs = controlsThatDiffer(now, then).has(`${selected.surface} ${selected.control}`);
    // All that it did was on layers that are gone.
    if (!differs || (there.length === 0 && lost > 0)) return null;
    return { ...selected, name: this.bench.controlName(selected) };
  });
  protected readonly newest = computed(() => this.versions().at(0));
  protected readonly told = computed(() => {
    const now = this.other()?.profile ?? this.bench.profile();
    const then = this.looked()?.profile;
    if (!now || !then) return [];
    const found = profileDifferences(then, now, this.ownSurfaces(now));
    // In what order things stand is told where nothing else differs.
    const things = found.filter(({ path }) => !isOrder(path.split('/')[1]));
    return [...new Set((things.length > 0 ? things : found).map(({ says }) => says))];
  });
  /** By sitting: what was saved without a longer rest between. */
  protected readonly sittings = computed(() => {
    const groups: { key: number; day: string; part: string; versions: Version[] }[] = [];
    let last = Infinity;
    for (const version of this.versions()) {
      const at = Date.parse(version.savedAt);
      const isSame =
        last - at <= SITTING_MS && groups.at(-1)?.day.slice(0, 10) === version.savedAt.slice(0, 10);
      last = at;
      if (isSame) groups.at(-1)?.versions.push(version);
      else
        groups.push({
          key: version.revision,
          day: version.savedAt,
          part: partOf(at),
          versions: [version],
        });
    }
    return groups;
  });

  private readonly shownLayer = signal('');
  protected readonly naming = new Task();

  constructor() {
    // The drawing shows it as it was, with what differs marked.
    effect(() => {
      const then = this.looked()?.profile;
      const against = this.other()?.profile ?? this.bench.profile();
      const layer = this.shownLayer();
      if (!then || !against) return;
      const marks = controlsThatDiffer(then, against);
      untracked(() => this.bench.preview.set({ profile: then, layer, marks }));
    });
    // What has been saved meanwhile is in the list.
    effect(() => {
      this.saved();
      untracked(() => void this.load());
    });
    inject(DestroyRef).onDestroy(() => {
      this.isGone = true;
      this.bench.preview.set(null);
    });
  }

  private async do(work: () => Promise<void>): Promise<void> {
    try {
      await work();
      this.message.set('');
    } catch (error) {
      this.message.set(words(error));
    }
  }

  private load(): Promise<void> {
    const id = this.bench.profile()?.id ?? '';
    return this.do(async () => {
      this.versions.set(await this.api.versions('profile', id));
      await this.tell();
    });
  }

  /** Says of the newest versions of which it is not said yet what each has changed, one after the other. */
  protected async tell(): Promise<void> {
    if (this.isTelling()) return;
    this.isTelling.set(true);
    try {
      const id = this.bench.profile()?.id ?? '';
      const list = this.versions();
      let last: { readonly revision: number; readonly profile: Profile } | null = null;
      const at = async (revision: number) =>
        last?.revision === revision
          ? last.profile
          : await this.api.openVersion('profile', id, revision);
      let count = 0;
      for (const [place, { revision }] of list.entries()) {
        if (place + 1 === list.length || count === MOST_SAID || this.isGone) break;
        if (this.changes().has(revision)) continue;
        count++;
        const before = list[place + 1].revision;
        const [after, then] = [await at(revision), await at(before)];
        last = { revision: before, profile: then };
        const says = changeSummary(then, after, this.ownSurfaces(after)) || 'nothing';
        this.changes.update((all) => new Map(all).set(revision, says));
      }
    } catch {
      // A version that cannot be read any more says nothing; the list stands.
    }
    this.isTelling.set(false);
  }

  private ownSurfaces(profile: Profile): Surface[] {
    return profile.surfaceOrder.flatMap(
      (id) => this.library.surface(profile.surfaces[id].model) ?? [],
    );
  }

  protected async call(version: Version | undefined, label: string | null): Promise<void> {
    const id = this.bench.profile()?.id;
    const name = label?.trim() ?? null;
    if (!id || !version || name === '') return;
    await this.naming.run(() => this.api.callVersion('profile', id, version.revision, name));
    await this.load();
  }

  protected look(version: Version): Promise<void> {
    const id = this.bench.profile()?.id ?? '';
    return this.do(async () => {
      const profile = await this.api.openVersion('profile', id, version.revision);
      this.other.set(null);
      this.looked.set({ version, profile });
      const layer = this.bench.layer();
      const shown = Object.hasOwn(profile.layers, layer) ? layer : profile.layerOrder[0];
      this.shownLayer.set(shown);
    });
  }

  /** Straight from the list, without looking first: undo takes it back. */
  protected async bringBack(version: Version): Promise<void> {
    await this.look(version);
    if (this.looked()?.version === version) this.restore();
  }

  protected compareWith(revision: number): Promise<void> {
    const id = this.bench.profile()?.id ?? '';
    const version = this.versions().find((one) => one.revision === revision);
    return this.do(async () => {
      this.other.set(
        version ? { version, profile: await this.api.openVersion('profile', id, revision) } : null,
      );
    });
  }

  /** Brings back what the control in hand did, and nothing else. */
  protected restoreControl(): void {
    const then = this.looked()?.profile;
    const control = this.inHand();
    if (!then || !control) return;
    this.close();
    this.bench.edit((now) => bringControlBack(now, then, control, control.name));
  }

  protected close(): void {
    this.other.set(null);
    this.looked.set(null);
    this.bench.preview.set(null);
  }

  /** Brings all of it back, as an edit. */
  protected restore(): void {
    const then = this.looked()?.profile;
    if (!then) return;
    this.close();
    this.bench.edit((now) =>
      edit(now, 'Bring a version back', (draft) => {
        for (const key of Object.keys(draft))
          if (!Object.hasOwn(then, key)) Reflect.deleteProperty(draft, key);
        Object.assign(draft, then);
      }),
    );
  }
}

/** What people call a time of day. */
const partOf = (at: number): string => {
  const hour = new Date(at).getHours();
  return hour < 5 ? 'night' : hour < 12 ? 'morning' : hour < 18 ? 'afternoon' : 'evening';
};
