import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  signal,
} from '@angular/core';
import { Button } from 'primeng/button';
import { IDENTITY_REQUEST, readIdentity } from '@rondo/core/wire';
import { EngineService } from '../engine/engine.service';
import { MIDI_SENTENCE } from '../engine/midi';
import { heard, identityText, isTouch, tellApart, type Traffic } from './traffic';

/** How long a port's lamp stays lit after a message, ms. */
const LIT_MS = 400;
/** How long an answer to an identity request is waited for, ms. */
const ANSWER_MS = 1_500;

/** Every port of this computer, with what comes from it. */
@Component({
  selector: 'rondo-ports-screen',
  imports: [Button],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header>
      <h1>Ports</h1>
      <p>
        Touch any control of a device: its input lights up. Which ports a profile uses is chosen in
        Bind.
      </p>
    </header>
    @if (sentence(); as text) {
      <p class="note" role="status">{{ text }}</p>
    }
    @if (canAsk()) {
      <p-button
        [label]="midi.state() === 'not asked' ? 'Allow real MIDI ports' : 'Ask again'"
        (onClick)="ask()"
      />
    }
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
                @if (trouble()[port.id]; as why) {
                  <small class="trouble" role="alert">{{ why }}</small>
                }
              </span>
              @if (traffic()[port.id]; as t) {
                <span>{{ t.last }}</span>
                <span class="mono">{{ t.hex }}</span>
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
              <span>{{ answers()[port.id] ?? '' }}</span>
              <span></span>
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
    section {
      max-width: 1080px;
      margin-top: 20px;
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
      grid-template-columns: 18px minmax(180px, 1fr) 1.4fr 1fr 112px;
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
  protected readonly sentence = computed(() => MIDI_SENTENCE[this.midi.state()]);
  protected readonly granted = computed(() => this.midi.state().startsWith('granted'));
  protected readonly canAsk = computed(() => !this.granted() && this.midi.state() !== 'asking');
  protected readonly inputs = computed(() => tellApart(this.midi.inputs()));
  protected readonly outputs = computed(() => tellApart(this.midi.outputs()));
  protected readonly trouble = this.midi.trouble;
  protected readonly traffic = signal<Readonly<Record<string, Traffic>>>({});
  /** Input whose lamp is lit now, and the one touched last. */
  protected readonly lit = signal<string | null>(null);
  protected readonly touched = signal<string | null>(null);
  /** What outputs answered when asked who they are. */
  protected readonly answers = signal<Readonly<Record<string, string | undefined>>>({});
  protected readonly asking = signal<string | null>(null);
  private darkTimer = 0;
  private answerTimer = 0;
  private waiting = new Map<string, { bytes: Uint8Array; at: number; count: number }>();
  private shown = 0;

  constructor() {
    void this.midi.resume();
    const stop = this.midi.watch((id, bytes, at) => this.hear(id, bytes, at));
    effect(() => {
      for (const { id } of this.midi.inputs()) this.midi.listen(id);
    });
    inject(DestroyRef).onDestroy(() => {
      stop();
      cancelAnimationFrame(this.shown);
      clearTimeout(this.darkTimer);
      clearTimeout(this.answerTimer);
      // Others may need a port that nobody here listens to any more.
      for (const { id } of this.midi.inputs()) if (!this.engine.uses(id)) this.midi.ignore(id);
    });
  }

  protected ask(): void {
    void this.midi.ask();
  }

  private hear(id: string, bytes: Uint8Array, at: number): void {
    const identity = this.asking() === null ? null : readIdentity(bytes);
    if (identity) this.answer(`${identityText(identity)}; it answers on ${this.nameOf(id)}.`);
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

  private nameOf(inputId: string): string {
    return this.inputs().find(({ id }) => id === inputId)?.label ?? 'an input';
  }

  /** Asks the device behind an output who it is. An identity request plays nothing, whatever is there. */
  protected identify(outputId: string): void {
    this.asking.set(outputId);
    if (!this.midi.send(outputId, Uint8Array.from(IDENTITY_REQUEST))) {
      this.answer('The port would not take the question.');
      return;
    }
    this.answerTimer = window.setTimeout(
      () => this.answer('No answer. Many devices give none; touch one to find its input.'),
      ANSWER_MS,
    );
  }

  private answer(text: string): void {
    const output = this.asking();
    if (output === null) return;
    clearTimeout(this.answerTimer);
    this.asking.set(null);
    this.answers.update((all) => ({ ...all, [output]: text }));
  }
}
