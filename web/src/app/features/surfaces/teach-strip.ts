import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { Button } from 'primeng/button';
import {
  PART_NAMES,
  ROW_KINDS,
  isPlace,
  mainPart,
  newRow,
  patternText,
  reverse,
  speaksOsc,
  type Control,
  type InputPart,
  type Pattern,
  type RowKind,
  type Surface,
} from '@rondo/core/surface';
import {
  Lesson,
  OscLesson,
  THIN,
  applyLore,
  stepsNow,
  stepsOf,
  type LessonView,
  type Lore,
  type Step,
} from '@rondo/core/teach';
import { readOscMessage, type NetNews } from '@rondo/core/wire';
import { EngineService } from '../../engine/engine.service';
import { LISTENING } from '../../engine/protocol';
import { MIDI_SENTENCE } from '../../engine/midi';
import { tellApart } from '../../engine/port-names';
import { NumberField } from '../../shared/ui/form';
import { DocumentEditor } from '../../state/documents';

const TICK_MS = 60;
/** The UDP port that is listened on at first. Common practice, no source. */
const FIRST_PORT = 8_000;
const ROW_NAMES: Readonly<Record<RowKind, string>> = {
  knob: 'Knobs',
  fader: 'Faders',
  button: 'Buttons',
  pad: 'Pads',
};
const now = (): number => performance.timeOrigin + performance.now();

/** Teaching by touch: it waits for one control after the other and takes what each is moved to say. */
@Component({
  selector: 'rondo-teach-strip',
  imports: [Button, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="source">
      <h3>Listen to</h3>
      @if (isOsc()) {
        <div class="udp">
          <span>UDP port</span>
          <rondo-number
            label="UDP port to listen on"
            [min]="1"
            [max]="65535"
            [value]="listens()"
            (changed)="listens.set($event ?? listens())"
          />
        </div>
        @if (oscStanding()?.fault; as fault) {
          <p class="unsure" role="alert">{{ fault }}</p>
        } @else {
          <p class="quiet">
            Let the touch screen send to this computer on that port. A device of the network is
            heard once the network is switched on, under Ports. What you touch here reaches no host.
          </p>
        }
        @for (one of strangers(); track one.from) {
          <p class="unsure" role="status">
            {{ one.from }} sends to this port.
            <button type="button" (click)="letIn(one.from)">Listen to it</button>
          </p>
        }
      } @else {
        @if (sentence(); as says) {
          <p class="quiet">{{ says }}</p>
        }
        @if (canAsk()) {
          <p-button
            size="small"
            [label]="midi.state() === 'not asked' ? 'Allow real MIDI ports' : 'Ask again'"
            (onClick)="ask()"
          />
        }
        <div class="ports" role="radiogroup" aria-label="Input to listen to">
          @for (port of inputs(); track port.id) {
            <label [class.lit]="lit() === port.id">
              <input
                type="radio"
                name="teach-input"
                [checked]="port.id === inputId()"
                (change)="listen(port.id)"
              />
              {{ port.label }}
            </label>
          }
        </div>
        @if (granted() && inputs().length === 0) {
          <p class="quiet">No input. Plug the device in.</p>
        }
        @if (inputId() === null && inputs().length > 0) {
          <p class="quiet">Touch any control of the device: its input lights up and is chosen.</p>
        } @else if (inputId() !== null) {
          <p class="quiet">What you touch here reaches no host.</p>
        }
      }
    </div>
    <div class="lesson">
      @if (view().phase === 'over') {
        <p class="ask">All {{ steps().length }} are through.</p>
        <p class="quiet">Click any control in the drawing to teach it anew.</p>
      } @else if (step(); as s) {
        <p class="count">{{ view().at + 1 }} of {{ steps().length }}</p>
        <p class="ask" aria-live="polite">
          {{ s.control.label }}{{ partName() ? ', ' + partName() : '' }}
        </p>
        <p class="says" [class.unsure]="view().phase === 'unsure'" aria-live="polite">
          {{ view().says }}
        </p>
      } @else {
        <p class="ask">Nothing to teach yet.</p>
        <p class="quiet">Place controls under Draw first.</p>
      }
      <div class="buttons">
        <p-button
          label="Back"
          size="small"
          severity="secondary"
          [outlined]="true"
          [disabled]="view().at === 0"
          (onClick)="go(-1)"
        />
        <p-button
          label="Redo"
          size="small"
          severity="secondary"
          [outlined]="true"
          [disabled]="view().phase === 'over'"
          (onClick)="redo()"
        />
        <p-button
          label="Skip"
          size="small"
          severity="secondary"
          [outlined]="true"
          [disabled]="view().phase === 'over'"
          (onClick)="go(1)"
        />
        @if (view().offer) {
          <p-button label="Take it all the same" size="small" (onClick)="takeOffer()" />
        }
      </div>
      @if (isPlaceNext()) {
        <div class="buttons rows" role="group" aria-labelledby="new-row">
          <span id="new-row" class="quiet">A new row from here:</span>
          @for (row of rows; track row.kind) {
            <p-button
              [label]="row.label"
              size="small"
              severity="secondary"
              [text]="true"
              (onClick)="newRow(row.kind)"
            />
          }
        </div>
      }
    </div>
    <div class="heard">
      <h3>Heard</h3>
      <svg viewBox="0 0 300 64" preserveAspectRatio="none" aria-hidden="true">
        <path [attr.d]="curve()" />
      </svg>
      @if (last(); as l) {
        <p>
          <b>{{ l.label }}</b> {{ l.text }}
        </p>
        <p class="quiet" [class.unsure]="l.doubtful">
          {{ l.why }} Confidence {{ l.confidence }} %.
          @if (l.doubtful) {
            It is taken; do it once more to be sure.
          }
        </p>
        @if (l.turns) {
          <p-button
            label="Reverse this encoder"
            size="small"
            severity="secondary"
            [outlined]="true"
            (onClick)="reverse(l.id)"
          />
        }
      } @else {
        <p class="quiet">Nothing taken yet.</p>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 0.9fr 1.3fr 1.2fr;
      height: 100%;
      min-height: 0;
    }
    div.source,
    div.lesson,
    div.heard {
      min-width: 0;
      padding: 12px 16px;
      overflow: auto;
      border-right: 1px solid var(--line);
    }
    div.heard {
      border-right: 0;
    }
    h3 {
      margin-bottom: 6px;
      font-size: 14px;
    }
    .ports {
      display: grid;
      gap: 2px;
      margin: 4px 0;
    }
    .ports label {
      display: flex;
      align-items: center;
      gap: 8px;
      min-height: 32px;
      padding: 0 8px;
      border-left: 4px solid transparent;
    }
    .ports .lit {
      border-left-color: var(--forward);
      background: var(--forward-soft);
    }
    .quiet,
    .count {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .ask {
      font-size: 26px;
      font-weight: 700;
      letter-spacing: -0.01em;
      line-height: 1.2;
    }
    .says {
      min-height: 42px;
      margin: 4px 0 8px;
      font-size: 16px;
    }
    .unsure {
      padding-left: 10px;
      border-left: 4px solid var(--return-line);
    }
    .udp {
      display: flex;
      align-items: center;
      gap: 8px;
      margin-bottom: 6px;
    }
    .buttons {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
    }
    .rows {
      align-items: center;
      margin-top: 10px;
    }
    .heard svg {
      width: 100%;
      height: 64px;
      margin-bottom: 6px;
      background: var(--raised);
      border: 1px solid var(--line);
    }
    path {
      fill: none;
      stroke: var(--forward);
      stroke-width: 2;
      vector-effect: non-scaling-stroke;
    }
  `,
})
export class TeachStrip {
  readonly surface = input.required<Surface>();
  readonly page = input(0);
  /** Control picked in the drawing, to be taught next. */
  readonly picked = input<string | null>(null);
  readonly waitingChange = output<string | null>();
  readonly taughtChange = output<ReadonlySet<string>>();

  private readonly engine = inject(EngineService);
  private readonly editor = inject(DocumentEditor);
  protected readonly midi = this.engine.midi;
  protected readonly sentence = computed(() => MIDI_SENTENCE[this.midi.state()]);
  protected readonly granted = computed(() => this.midi.state().startsWith('granted'));
  protected readonly canAsk = computed(() => !this.granted() && this.midi.state() !== 'asking');
  protected readonly inputs = computed(() => tellApart(this.midi.inputs()));
  protected readonly inputId = signal<string | null>(null);
  protected readonly lit = signal<string | null>(null);
  protected readonly steps = signal<readonly Step[]>([]);
  protected readonly view = signal<LessonView>(new Lesson([]).view);
  protected readonly step = computed(() => this.steps()[this.view().at] as Step | undefined);
  protected readonly rows = ROW_KINDS.map((kind) => ({ kind, label: ROW_NAMES[kind] }));
  /** What is waited for is a place of a device that nobody has described. */
  protected readonly isPlaceNext = computed(() => {
    const id = this.step()?.control.id;
    return this.surface().controls.some((control) => control.id === id && isPlace(control));
  });
  protected readonly partName = computed(() => {
    const step = this.step();
    return step && step.part !== mainPart(step.control.kind) ? PART_NAMES[step.part] : '';
  });
  protected readonly last = signal<{
    id: string;
    label: string;
    text: string;
    why: string;
    confidence: number;
    /** The hand went on before it was sure. */
    doubtful: boolean;
    turns: boolean;
  } | null>(null);
  protected readonly curve = signal('');
  private lesson: Lesson | OscLesson = new Lesson([]);
  protected readonly isOsc = computed(() => speaksOsc(this.surface()));
  /** UDP port that is listened on, where the surface speaks OSC. */
  protected readonly listens = signal(FIRST_PORT);
  protected readonly oscStanding = computed(() => this.engine.net.standing()[LISTENING]);
  private readonly taught = new Set<string>();
  /** What has been written into the surface, by step. */
  private readonly written = new Map<number, Lore>();
  private values: number[] = [];
  private highest = 1;
  private litTimer = 0;

  constructor() {
    void this.midi.resume();
    const stop = this.midi.watch((id, bytes, at) => this.hear(id, bytes, at));
    this.engine.divert(true);
    // Every input is listened to until one is chosen by touching its device.
    const unwatch = this.engine.watchAll();
    const timer = setInterval(() => this.tick(), TICK_MS);
    const stopOsc = this.engine.net.watchOsc((link, bytes, at) => this.hearOsc(link, bytes, at));
    effect(() => {
      const listen = this.isOsc() ? this.listens() : null;
      const from = [...this.friends()];
      untracked(() =>
        this.engine.net.listenOsc(listen === null ? null : { listen, to: null, from }),
      );
    });
    inject(DestroyRef).onDestroy(() => {
      stop();
      clearInterval(timer);
      clearTimeout(this.litTimer);
      this.engine.divert(false);
      stopOsc();
      this.engine.net.listenOsc(null);
      unwatch();
    });
    effect(() => {
      const page = this.page();
      untracked(() => this.begin(this.surface(), page));
    });
    // What is taken back by undo is taught anew.
    effect(() => {
      const surface = this.surface();
      untracked(() => {
        this.agree(surface);
        this.describe(surface);
      });
    });
    effect(() => {
      const picked = this.picked();
      untracked(() => {
        const at = this.steps().findIndex(({ control }) => control.id === picked);
        if (at < 0) return;
        this.lesson.goTo(at);
        this.show();
      });
    });
  }

  /** Starts a pass over all controls, at the first that has no message yet. */
  private begin(surface: Surface, page: number): void {
    const steps = stepsOf(surface);
    const first = steps.findIndex(({ control, part }) => !sendsOn(surface, control, page)[part]);
    this.steps.set(steps);
    const from = Math.max(0, first);
    this.lesson = speaksOsc(surface) ? new OscLesson(steps, from) : new Lesson(steps, from);
    this.taught.clear();
    this.written.clear();
    this.taughtChange.emit(new Set());
    this.show();
  }

  /** Forgets what is not in the surface any more, and goes back to the first of it. */
  private agree(surface: Surface): void {
    const gone = [...this.written].filter(([step, lore]) => {
      const { control } = this.steps()[step];
      const now = surface.controls.find(({ id }) => id === control.id);
      const sends = now && sendsOn(surface, now, this.page());
      return !Object.entries(lore.sends).every(([part, pattern]) =>
        isSameSender(sends?.[part as InputPart], pattern),
      );
    });
    if (gone.length === 0) return;
    for (const [step] of gone) {
      this.lesson.forget(step);
      this.written.delete(step);
      this.taught.delete(this.steps()[step].control.id);
    }
    this.taughtChange.emit(new Set(this.taught));
    this.last.set(null);
    this.lesson.goTo(Math.min(...gone.map(([step]) => step)));
    this.show();
  }

  /** What the rows of an unknown device are said to be. */
  private describe(surface: Surface): void {
    this.steps.update((steps) => stepsNow(steps, surface));
    this.lesson.describe(this.steps());
    this.show();
  }

  private show(): void {
    this.view.set(this.lesson.view);
    this.waitingChange.emit(this.step()?.control.id ?? null);
  }

  protected ask(): void {
    void this.midi.ask();
  }

  protected readonly strangers = computed(
    () =>
      Object.values(this.engine.net.news()).filter(
        (one) =>
          one?.link === LISTENING && one.why === 'stranger' && !this.friends().includes(one.from),
      ) as readonly NetNews[],
  );
  private readonly friends = signal<readonly string[]>([]);

  protected letIn(address: string): void {
    this.friends.update((all) => [...all, address]);
  }

  protected listen(id: string): void {
    this.inputId.set(id);
  }

  private hear(id: string, bytes: Uint8Array, at: number): void {
    if (bytes.length === 0 || bytes[0] >= 0xf8) return;
    this.lit.set(id);
    clearTimeout(this.litTimer);
    this.litTimer = window.setTimeout(() => this.lit.set(null), 400);
    if (this.inputId() === null) this.listen(id);
    if (this.inputId() !== id) return;
    this.lesson.feed(at, bytes);
    this.values.push((bytes[2] ?? bytes[1] ?? 0) & 0x7f);
    if (this.values.length > 150) this.values.shift();
  }

  private hearOsc(link: string, bytes: Uint8Array, at: number): void {
    if (link !== LISTENING || !this.isOsc()) return;
    this.lesson.feed(at, bytes);
    const value = readOscMessage(bytes)?.values.find((one) => typeof one === 'number');
    if (typeof value !== 'number') return;
    // Whatever its range is, the line goes up to what was highest.
    this.highest = Math.max(this.highest, Math.abs(value));
    this.values.push((127 * Math.max(0, value)) / this.highest);
    if (this.values.length > 150) this.values.shift();
  }

  private tick(): void {
    for (let taken = this.lesson.tick(now()); taken; taken = this.lesson.tick(now()))
      this.take(taken);
    if (this.lesson.view.phase !== this.view().phase || this.lesson.view.says !== this.view().says)
      this.show();
    const points = this.values.map((value, i) => `${i * 2} ${62 - (value / 127) * 60}`);
    this.curve.set(points.length > 1 ? `M${points.join('L')}` : '');
  }

  protected takeOffer(): void {
    const taken = this.lesson.takeOffer();
    if (taken) this.take(taken);
  }

  private take({ step, lore }: { step: number; lore: Lore }): void {
    const { control } = this.steps()[step];
    this.editor.edit('surface', (surface) => applyLore(surface, control.id, this.page(), lore));
    this.taught.add(control.id);
    this.written.set(step, lore);
    this.taughtChange.emit(new Set(this.taught));
    const patterns = Object.values(lore.sends);
    this.last.set({
      id: control.id,
      label: control.label,
      text: patterns.map((pattern) => patternText(pattern)).join('; '),
      why: lore.why,
      confidence: Math.round(lore.confidence * 100),
      doubtful: lore.confidence < THIN,
      turns: patterns.some((pattern) => pattern.type === 'relative'),
    });
    this.values = [];
    this.show();
  }

  protected go(by: number): void {
    this.lesson.goTo(this.view().at + by);
    this.show();
  }

  protected newRow(kind: RowKind): void {
    const from = this.step()?.control.id;
    if (from) this.editor.edit('surface', (surface) => newRow(surface, from, kind));
  }

  protected redo(): void {
    this.lesson.redo();
    this.show();
  }

  protected reverse(id: string): void {
    this.editor.edit('surface', (surface) => reverse(surface, id));
  }
}

/** What a control sends on an onboard page, 0 for the first. */
function sendsOn(surface: Surface, control: Control, page: number): Control['sends'] {
  return page === 0 ? control.sends : (control.pages?.[surface.pages[page - 1]?.id]?.sends ?? {});
}

/** Whether two patterns are of one sender, however its values are read. */
function isSameSender(a: Pattern | undefined, b: Pattern): boolean {
  const of = (pattern: object, key: string): unknown => Reflect.get(pattern, key);
  return (
    a !== undefined &&
    ['type', 'channel', 'number', 'address', 'argument'].every((key) => of(a, key) === of(b, key))
  );
}
