import { Injectable, computed, inject, linkedSignal, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { EngineService } from '../../../engine/engine.service';
import type { Frame } from '../../../engine/frame';
import { profileFeature } from '../../../state/document';
import { LibraryService } from '../../../state/library';

/** Surfaces stand side by side up to this width, in their heights. */
const WIDEST_ROW = 2.6;

/** Which surfaces of the profile are drawn, how they stand, and on which of their onboard pages they are. */
@Injectable()
export class SurfacesShown {
  private readonly library = inject(LibraryService);
  private readonly engine = inject(EngineService);
  private readonly profile = inject(Store).selectSignal(profileFeature.selectDocument);

  readonly all = computed(() => {
    const profile = this.profile();
    return (profile?.surfaceOrder ?? []).flatMap((id) => {
      const surface = profile && this.library.surface(profile.surfaces[id].model);
      return surface
        ? [
            {
              id,
              label: profile.surfaces[id].label,
              surface,
              pages: [surface.firstPage?.label ?? '1', ...surface.pages.map(({ label }) => label)],
            },
          ]
        : [];
    });
  });
  /** Surfaces of the profile whose description is gone. */
  readonly missing = computed(() => {
    const profile = this.profile();
    if (!profile || !this.library.has(profile)) return [];
    return profile.surfaceOrder
      .map((id) => profile.surfaces[id])
      .filter(({ model }) => !this.library.surface(model));
  });
  /** Whether all surfaces side by side would be too small to read. */
  readonly crowded = computed(() => {
    const widths = this.all().map(({ surface }) => surface.width / surface.height);
    return widths.length > 1 && widths.reduce((sum, width) => sum + width, 0) > WIDEST_ROW;
  });
  /** Where they are crowded, the one that is shown; empty for all. It goes by what is touched. */
  readonly one = linkedSignal<{ profile: string; order: readonly string[] }, string>({
    source: () => ({
      profile: this.profile()?.id ?? '',
      order: this.all().map(({ id }) => id),
    }),
    computation: ({ profile, order }, before) => {
      const first = order.at(0) ?? '';
      if (!before || before.source.profile !== profile || before.source.order.length === 0)
        return first;
      // One that has just been added is looked at.
      const added = order.find((id) => !before.source.order.includes(id));
      return added ?? (before.value === '' || order.includes(before.value) ? before.value : first);
    },
  });
  readonly drawn = computed(() => {
    const all = this.all();
    const one = this.crowded() ? all.filter(({ id }) => id === this.one()) : [];
    return one.length > 0 ? one : all;
  });
  /** Whether surfaces stand one over the other. */
  readonly stacked = computed(() => this.crowded() && this.drawn().length > 1);
  /** Onboard page that each surface is on, from 0. */
  readonly pages = signal<Readonly<Record<string, number>>>({});

  /** Follows the pages that the devices are on. */
  read(frame: Frame): void {
    const now = this.pages();
    const read = frame.plan.links.flatMap((link, i) =>
      link.surface ? [[link.id, frame.page(i)] as const] : [],
    );
    if (read.some(([id, page]) => now[id] !== page)) this.pages.set(Object.fromEntries(read));
  }

  /** Turns a simulated surface's onboard page; a real one is turned at the device. */
  turnPage(id: string, by: number): void {
    const total = this.all().find((s) => s.id === id)?.pages.length ?? 1;
    const value = ((this.pages()[id] ?? 0) + by + total) % total;
    this.engine.hand({ link: `surface:${id}`, control: '', does: 'page', value });
  }
}
