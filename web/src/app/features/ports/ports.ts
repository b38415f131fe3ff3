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
  template: `
    <header>
      <h1>Ports</h1>
      <p>Touch any control of a device: its input lights up.</p>
    </header>
    @if (place(); as text) {
      <p class="quiet place" role="status">{{ text }}</p>
    }
    @if (sentence(); as text) {
      <p class="note" role="status">{{ text }}</p>
    }
    @if (canAsk()) {
      <p-button
        [label]="midi.state() === 'not asked' ? 'Allow real MIDI ports' : 'Ask again'"
        (onClick)="ask()"
      />
    }
    <div class="columns">
      <div>
        @if (granted()) {
          <section>
            <h2>Inputs</h2>
            <ul>
              @for (port of inputs(); track port.id) {
                <li [class.lit]="lit() === port.id">
                  <span class="lamp" aria-hidden="true"></span>
                  <span class="name">
                    {{ port.label }}
                    @if (touched() === port.id) {
                      <b>touched last</b>
                    }
                    @if (tempos()[port.id]; as tempo) {
                      <small>Clock {{ tempo }} bpm</small>
                    }
                    @if (trouble()[port.id]; as why) {
                      <small class="trouble" role="alert">{{ why }}</small>
                    }
                  </span>
                  @if (traffic()[port.id]; as t) {
                    <span
                      >{{ t.last }} <span class="mono hex">{{ t.hex }}</span></span
                    >
                    <span class="count">{{ t.count }}</span>
                  } @else {
                    <span class="quiet">Nothing has come yet.</span>
                  }
                </li>
              } @empty {
                <li class="quiet">
                  No input. Plug a device in; if its system driver is missing, it will not appear.
                </li>
              }
            </ul>
          </section>
          <section>
            <h2>Outputs</h2>
            <ul>
              @for (port of outputs(); track port.id) {
                <li>
                  <span></span>
                  <span class="name">{{ port.label }}</span>
                  <span>
                    {{ answers()[port.id]?.text ?? '' }}
                    @if (answers()[port.id]?.answer; as answer) {
                      @if (knownAs(answer); as name) {
                        It is {{ name }}.
                      } @else if (own().length > 0) {
                        <rondo-choice
                          [label]="'Which surface is behind ' + port.label"
                          placeholder="Remember it as …"
                          [options]="ownChoices()"
                          [value]="null"
                          (chosen)="remember(answer, $event)"
                        />
                      }
                    }
                  </span>
                  <p-button
                    label="Ask who it is"
                    size="small"
                    severity="secondary"
                    [outlined]="true"
                    [disabled]="midi.state() !== 'granted' || asking() !== null"
                    (onClick)="identify(port.id)"
                  />
                </li>
              } @empty {
                <li class="quiet">No output. A device that cannot receive gets no feedback.</li>
              }
            </ul>
            @if (midi.state() !== 'granted') {
              <p class="note">
                Asking a device who it is needs SysEx, which the browser has not allowed.
              </p>
            }
          </section>
        }
        @if (profile(); as p) {
          @if (oscLinks().length > 0) {
            <section>
              <rondo-osc-log [links]="oscLinks()" />
            </section>
          }
          <section>
            <rondo-routes-form [profile]="p" [links]="links()" />
          </section>
          <rondo-program-sheets [profile]="p" />
        }
        <section class="network">
          <rondo-network-switch />
        </section>
        <section>
          <rondo-keys-panel />
        </section>
        @if (profile(); as p) {
          <section>
            <rondo-glass-panel [profile]="p" />
          </section>
        }
      </div>
      @if (profile(); as p) {
        <aside>
          <h2>{{ p.name }}</h2>
          <rondo-ports [profile]="p" [embedded]="true" />
          @if (granted()) {
            <rondo-lamp-search [profile]="p" [outputs]="outputs()" />
          }
          <rondo-roles-form [profile]="p" />
        </aside>
      } @else {
        <aside class="quiet">
          <p>Open a profile to say which of these ports it uses, and what for.</p>
          @if (last) {
            <p-button
              label="Open the one used last"
              size="small"
              severity="secondary"
              [outlined]="true"
              (onClick)="openLast()"
            />
          }
        </aside>
      }
    </div>
  `,
  styles: `
    :host {
      display: block;
      height: 100%;
      overflow: auto;
      padding: 32px 40px;
    }
    h1 {
      font-size: 28px;
      letter-spacing: -0.01em;
    }
    header p,
    .quiet,
    .note {
      color: var(--ink-soft);
    }
    header p {
      margin: 4px 0 20px;
    }
    .note {
      max-width: 760px;
      margin: 12px 0;
    }
    .columns {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 384px;
      gap: 36px;
      margin-top: 18px;
    }
    section {
      margin-bottom: 20px;
    }
    .network {
      margin-top: 24px;
    }
    aside {
      display: grid;
      gap: 14px;
      align-content: start;
    }
    .hex {
      display: block;
      color: var(--ink-soft);
      font-size: 12px;
    }
    h2 {
      font-size: 16px;
      margin-bottom: 6px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      border-top: 1px solid var(--line);
    }
    li {
      display: grid;
      grid-template-columns: 16px minmax(130px, 1fr) 1.5fr auto;
      align-items: center;
      gap: 14px;
      min-height: 48px;
      padding: 4px 0;
      border-bottom: 1px solid var(--line);
    }
    li.quiet {
      display: block;
      padding-top: 12px;
    }
    .lamp {
      width: 14px;
      height: 14px;
      border: 1.5px solid var(--line-strong);
      border-radius: 50%;
    }
    .lit .lamp {
      background: var(--forward);
      border-color: var(--forward);
    }
    .name {
      font-weight: 600;
    }
    .name b {
      margin-left: 8px;
      padding: 1px 8px;
      border-radius: 10px;
      background: var(--forward);
      color: var(--sheet);
      font-size: 12px;
    }
    .name small {
      display: block;
      font-weight: 400;
    }
    .trouble {
      border-left: 3px solid var(--stop);
      padding-left: 8px;
    }
    .count {
      font-variant-numeric: tabular-nums;
      text-align: right;
    }
  `,
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
    const unwatch = this.engine.watchAll();
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
