import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  inject,
  signal,
} from '@angular/core';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { changeSurface } from '@rondo/core/surface';
import { CLOCK } from '@rondo/core/wire';
import { Ports } from '../../shared/ui/port-choices';
import { EngineService } from '../../engine/engine.service';
import { MIDI_SENTENCE } from '../../engine/midi';
import { linksOf } from '../../engine/profile-links';
import { Tempo } from '../../engine/tempo';
import { Recogniser, sameIdentity, type Answer } from '../../engine/recogniser';
import { libraryActions, listActions } from '../../state/actions';
import { Api } from '../../state/api';
import { profileFeature, surfaceFeature } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { LibraryService } from '../../state/library';
import { documentActions } from '../../state/actions';
import { lastUsed } from '../../state/last-used';
import { selectListOf } from '../../state/list';
import { GlassPanel } from './glass-panel';
import { KeysPanel } from './keys-panel';
import { LampSearch } from './lamp-search';
import { NetworkSwitch } from './network-switch';
import { OscLog } from './osc-log';
import { ProgramSheets } from './program-sheets';
import { RolesForm } from './roles-form';
import { RoutesForm } from './routes-form';
import { heard, identityText, isTouch, type Traffic } from './traffic';
import { tellApart } from '../../engine/port-names';
import { Choice } from '../../shared/ui/form';

/** How long a port's lamp stays lit after a message, ms. */
const LIT_MS = 400;

/** Every port of this computer, with what comes from it, and what the open profile uses them for. */
@Component({
  selector: 'rondo-ports-screen',
  imports: [
    Button,
    Choice,
    GlassPanel,
    KeysPanel,
    LampSearch,
    NetworkSwitch,
    OscLog,
    Ports,
    ProgramSheets,
    RolesForm,
    RoutesForm,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './ports.html',
  styleUrl: './ports.css',
})
export class PortsScreen {
  private readonly engine = inject(EngineService);
  protected readonly midi = this.engine.midi;
  private readonly recogniser = inject(Recogniser);
  private readonly store = inject(Store);
  private readonly api = inject(Api);
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  protected readonly profile = this.store.selectSignal(profileFeature.selectDocument);
  /** The profile that was open last in this browser: this screen may have been loaded again. */
  protected readonly last = lastUsed().at(0);
  protected readonly links = computed(() => {
    const profile = this.profile();
    if (!profile) return [];
    return linksOf(
      profile,
      (id) => this.library.hostOf(profile, id),
      (id) => this.library.surface(id),
    );
  });
  protected readonly oscLinks = computed(() => this.links().filter(({ isOsc }) => isOsc));
  private readonly editing = this.store.selectSignal(surfaceFeature.selectDocument);
  private readonly surfaces = this.store.selectSignal(selectListOf.surface);
  protected readonly own = computed(() => this.surfaces().documents ?? []);
  protected readonly ownChoices = computed(() =>
    this.own().map(({ id, name }) => ({ value: id, label: name })),
  );
  protected readonly sentence = computed(() => MIDI_SENTENCE[this.midi.state()]);
  protected readonly granted = computed(() => this.midi.state().startsWith('granted'));
  protected readonly canAsk = computed(() => !this.granted() && this.midi.state() !== 'asking');
  protected readonly place = computed(() => {
    const place = this.midi.place();
    if (!place) return '';
    return place.own
      ? 'MIDI has a process of its own: drawing never holds it up.'
      : `MIDI shares a process with the page, so a busy screen can delay it. ${place.why}`;
  });
  protected readonly inputs = computed(() => tellApart(this.midi.inputs()));
  protected readonly outputs = computed(() => tellApart(this.midi.outputs()));
  protected readonly trouble = this.midi.trouble;
  protected readonly traffic = signal<Readonly<Record<string, Traffic>>>({});
  /** Input whose lamp is lit now, and the one touched last. */
  protected readonly lit = signal<string | null>(null);
  protected readonly touched = signal<string | null>(null);
  /** What outputs answered when asked who they are. */
  protected readonly answers = signal<
    Readonly<Record<string, { text: string; answer: Answer | null } | undefined>>
  >({});
  protected readonly asking = signal<string | null>(null);
  protected readonly tempos = signal<Readonly<Record<string, string>>>({});
  private readonly clocks = new Map<string, Tempo>();
  private darkTimer = 0;
  private waiting = new Map<string, { bytes: Uint8Array; at: number; count: number }>();
  private shown = 0;

  constructor() {
    void this.midi.resume();
    this.store.dispatch(listActions.load({ kind: 'surface' }));
    const stop = this.midi.watch((id, bytes, at) => this.hear(id, bytes, at));
    const unwatch = this.engine.ports.watchAll();
    inject(DestroyRef).onDestroy(() => {
      stop();
      unwatch();
      cancelAnimationFrame(this.shown);
      clearTimeout(this.darkTimer);
    });
  }

  protected openLast(): void {
    if (this.last) this.store.dispatch(documentActions.open({ kind: 'profile', id: this.last }));
  }

  protected ask(): void {
    void this.midi.ask();
  }

  private hear(id: string, bytes: Uint8Array, at: number): void {
    if (bytes[0] === CLOCK) this.beat(id, at);
    if (isTouch(bytes)) this.touch(id);
    // Shown once a frame, however much comes.
    const count = (this.waiting.get(id)?.count ?? 0) + 1;
    this.waiting.set(id, { bytes: bytes.slice(), at, count });
    if (this.shown === 0) this.shown = requestAnimationFrame(() => this.show());
  }

  private show(): void {
    this.shown = 0;
    this.traffic.update((all) => {
      const next = { ...all };
      for (const [id, { bytes, at, count }] of this.waiting) {
        const now = heard(all[id], bytes, at);
        next[id] = { ...now, count: now.count + count - 1 };
      }
      return next;
    });
    this.waiting.clear();
  }

  private touch(id: string): void {
    this.lit.set(id);
    this.touched.set(id);
    clearTimeout(this.darkTimer);
    this.darkTimer = window.setTimeout(() => this.lit.set(null), LIT_MS);
  }

  private beat(id: string, at: number): void {
    const clock = this.clocks.get(id) ?? new Tempo();
    this.clocks.set(id, clock);
    const tempo = clock.tick(at)?.toFixed(1);
    if (tempo !== undefined && tempo !== this.tempos()[id])
      this.tempos.update((all) => ({ ...all, [id]: tempo }));
  }

  private nameOf(inputId: string): string {
    return this.inputs().find(({ id }) => id === inputId)?.label ?? 'an input';
  }

  /** Asks the device behind an output who it is. */
  protected async identify(outputId: string): Promise<void> {
    this.asking.set(outputId);
    const answer = await this.recogniser.ask(outputId, () => true);
    this.asking.set(null);
    const text = answer
      ? `${identityText(answer.identity)}; it answers on ${this.nameOf(answer.inputId)}.`
      : 'No answer. Many devices give none; touch one to find its input.';
    this.answers.update((all) => ({ ...all, [outputId]: { text, answer } }));
    if (answer) for (const { id } of this.own()) this.library.fetch('surface', id);
  }

  /** Name of the surface that has said so before, if any. */
  protected knownAs({ identity }: Answer): string | null {
    return (
      Object.values(this.library.own().surfaces).find((surface) =>
        sameIdentity(surface?.device.identity, identity),
      )?.name ?? null
    );
  }

  /** Writes into a surface who its device says it is. */
  protected async remember({ identity }: Answer, id: string): Promise<void> {
    const { manufacturer, family, member } = identity;
    const who = { manufacturer, family, member };
    if (this.editing()?.id === id) {
      this.editor.edit('surface', (surface) =>
        changeSurface(surface, 'Who it says it is', (draft) => {
          draft.device.identity = who;
        }),
      );
      return;
    }
    const { document, revision } = await this.api.open('surface', id);
    const known = { ...document, device: { ...document.device, identity: who } };
    await this.api.save('surface', known, revision);
    this.store.dispatch(libraryActions.got({ kind: 'surface', document: known }));
  }
}
