import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { BOOTH, STUDIO } from '@rondo/core/host';
import { addHost, addSurface, emptyProfile, type Profile } from '@rondo/core/profile';
import { STOCK_SURFACES, unknownSurface, type Surface } from '@rondo/core/surface';
import { EngineService } from '../../engine/engine.service';
import type { PortChoice } from '../../engine/port-choice';
import { presetPorts } from '../../engine/stored-session';
import { Thumb } from '../../shared/panel/thumb';
import { listActions } from '../../state/actions';
import { Api, freshId, words } from '../../state/api';
import { LibraryService } from '../../state/library';
import { selectListOf } from '../../state/list';
import { forget, keep, kept } from '../../state/kept';
import { TouchYours } from './touch-yours';

interface Chosen {
  readonly model: string;
  readonly label: string;
  readonly ports?: PortChoice;
}

/** What was chosen before a device was taught: found again on the way back. */
const KEPT = 'rondo.newProfile';

/** Which surfaces, which hosts: then a profile is made, with a proposal for it. */
@Component({
  selector: 'rondo-new-profile',
  imports: [Button, RouterLink, Thumb],
  providers: [TouchYours],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './new-profile.html',
  styleUrl: './new-profile.css',
})
export class NewProfile {
  /** A surface that was taught in between, from the address. */
  readonly taught = input<string>();

  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly api = inject(Api);
  private readonly library = inject(LibraryService);
  private readonly engine = inject(EngineService);
  protected readonly touch = inject(TouchYours);
  private readonly profiles = this.store.selectSignal(selectListOf.profile);
  private readonly surfaceList = this.store.selectSignal(selectListOf.surface);
  private readonly hostList = this.store.selectSignal(selectListOf.host);

  /** One's own first. */
  protected readonly pictures = computed(() => [
    ...(this.surfaceList().documents ?? [])
      .flatMap(({ id }) => this.library.surface(id) ?? [])
      .map((surface) => ({ surface, about: 'Your own' })),
    ...[...STOCK_SURFACES.values()]
      .filter(({ id }) => id !== 'blank')
      .map((surface) => ({ surface, about: surface.about })),
  ]);
  protected readonly hosts = computed(() => [
    ...[STUDIO, BOOTH].map(({ id, name, about }) => ({ id, name, about })),
    ...(this.hostList().documents ?? []).map(({ id, name }) => ({ id, name, about: 'Your own' })),
  ]);
  protected readonly surfaces = signal<readonly Chosen[]>([]);
  protected readonly programs = signal<readonly Chosen[]>([]);
  /** The surface that was chosen since a device seemed to be it, and not by hand. */
  private byTouch: string | null = null;
  protected readonly message = signal('');
  protected readonly making = signal(false);
  /** What MIDI says where a device cannot be touched. */
  protected readonly cannot = computed(() => {
    const state = this.engine.midi.state();
    if (!this.touch.on() || state.startsWith('granted') || state === 'asking') return '';
    return state === 'refused'
      ? 'The browser refused MIDI. Allow it in the site settings, or choose from the pictures.'
      : state === 'not asked'
        ? ''
        : 'There is no MIDI here. Choose from the pictures.';
  });

  constructor() {
    for (const kind of ['profile', 'surface', 'host'] as const)
      this.store.dispatch(listActions.load({ kind }));
    effect(() => {
      for (const { id } of this.surfaceList().documents ?? []) this.library.fetch('surface', id);
      for (const { id } of this.hostList().documents ?? []) this.library.fetch('host', id);
    });
    // Back from teaching: what was chosen before, and what was taught.
    effect(() => {
      const id = this.taught();
      if (id === undefined) return;
      this.library.fetch('surface', id);
      const surface = this.library.surface(id);
      if (!surface || untracked(this.surfaces).some(({ model }) => model === id)) return;
      untracked(() => this.restore(surface));
    });
    // One device that is known for sure is chosen as it is touched, and given up where more of it says otherwise.
    effect(() => {
      const touched = this.touch.touched();
      if (!touched) return;
      untracked(() => {
        if (!touched.may.some(({ id }) => id === this.byTouch)) this.giveUp();
        // Once: a hand that takes it off again is right.
        if (touched.sure && touched.may[0].id !== this.byTouch)
          this.takeTouched(touched.may[0], true);
      });
    });
    inject(DestroyRef).onDestroy(() => this.touch.stop());
  }

  private restore(surface: Surface): void {
    let chosen: { surfaces?: Chosen[]; programs?: Chosen[]; ports?: PortChoice } = {};
    try {
      chosen = JSON.parse(kept(KEPT, 'here') ?? '{}') as typeof chosen;
    } catch {
      // What cannot be read is chosen again.
    }
    forget(KEPT, 'here');
    this.programs.set(chosen.programs ?? []);
    this.surfaces.set([
      ...(chosen.surfaces ?? []),
      { model: surface.id, label: surface.name, ...(chosen.ports ? { ports: chosen.ports } : {}) },
    ]);
  }

  protected isOn(list: readonly Chosen[], model: string): boolean {
    return list.some((one) => one.model === model);
  }

  protected toggleSurface({ id, name }: Surface): void {
    this.surfaces.update((list) => toggled(list, { model: id, label: name }));
  }

  protected toggleHost(id: string, name: string): void {
    this.programs.update((list) => toggled(list, { model: id, label: name }));
  }

  /** Takes off what was chosen by touch alone. */
  private giveUp(): void {
    const { byTouch } = this;
    if (byTouch === null) return;
    this.byTouch = null;
    this.surfaces.update((list) => list.filter(({ model }) => model !== byTouch));
  }

  protected takeTouched(surface: Surface, byItself = false): void {
    const touched = this.touch.touched();
    if (!touched || this.isOn(this.surfaces(), surface.id)) return;
    if (byItself) this.byTouch = surface.id;
    const { ports } = touched;
    this.surfaces.update((list) => [...list, { model: surface.id, label: surface.name, ports }]);
  }

  /** An unknown device is taught, and brings one back here. */
  protected teach(): void {
    const touched = this.touch.touched();
    this.giveUp();
    const document = unknownSurface(
      freshId('surface'),
      touched?.port.slice(0, 60) || 'New surface',
    );
    const chosen = { surfaces: this.surfaces(), programs: this.programs(), ports: touched?.ports };
    keep(KEPT, JSON.stringify(chosen), 'here');
    void this.make(async () => {
      await this.api.create('surface', document);
      await this.router.navigate(['/surfaces', document.id], { queryParams: { for: 'profile' } });
    });
  }

  /** Makes the profile and opens it; with surfaces and hosts it begins with a proposal. */
  protected create(isEmpty = false): void {
    const profile = this.profileOf(isEmpty);
    const ports = Object.fromEntries(
      (isEmpty ? [] : this.surfaces()).flatMap(({ ports: one }, at) =>
        one ? [[`surface:${profile.surfaceOrder[at]}`, one]] : [],
      ),
    );
    const proposes = profile.surfaceOrder.length > 0 && profile.hostOrder.length > 0;
    void this.make(async () => {
      await this.api.create('profile', profile);
      presetPorts(profile.id, ports);
      const queryParams = proposes ? { propose: 'yes' } : {};
      await this.router.navigate(['/bind', profile.id], { queryParams });
    });
  }

  private async make(work: () => Promise<void>): Promise<void> {
    if (this.making()) return;
    this.making.set(true);
    this.message.set('');
    try {
      await work();
    } catch (error) {
      this.message.set(words(error));
    }
    this.making.set(false);
  }

  private profileOf(isEmpty: boolean): Profile {
    const names = new Set(this.profiles().documents?.map(({ name }) => name));
    const [surface] = this.surfaces();
    const [program] = this.programs();
    const wanted =
      isEmpty || !surface || !program
        ? 'New profile'
        : `${surface.label} and ${program.label}`.slice(0, 70);
    let name = wanted;
    for (let n = 2; names.has(name); n++) name = `${wanted} ${n}`;
    let profile: Profile = {
      ...emptyProfile(freshId('profile'), name),
      surfaces: {},
      surfaceOrder: [],
      hosts: {},
      hostOrder: [],
    };
    if (isEmpty) return profile;
    for (const { model, label } of this.surfaces())
      profile = addSurface(profile, model, label).document;
    for (const { model, label } of this.programs())
      profile = addHost(profile, model, label).document;
    return profile;
  }
}

function toggled(list: readonly Chosen[], one: Chosen): readonly Chosen[] {
  const rest = list.filter(({ model }) => model !== one.model);
  return rest.length < list.length ? rest : [...list, one];
}
