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
  templateUrl: './teach-strip.html',
  styleUrl: './teach-strip.css',
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
    this.engine.setTeaching(true);
    // Every input is listened to until one is chosen by touching its device.
    const unwatch = this.engine.ports.watchAll();
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
      this.engine.setTeaching(false);
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
