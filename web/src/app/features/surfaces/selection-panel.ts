import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import {
  CONTROL_KINDS,
  EDGES,
  INPUT_PARTS,
  KIND_NAMES,
  mainPart,
  LAMPS,
  LONGEST_RUN,
  OUTPUT_PARTS,
  PART_NAMES,
  align,
  changeControls,
  distribute,
  findingsOf,
  makeRun,
  patternText,
  renameAll,
  reverse,
  numberedRun,
  turns,
  type Control,
  type ControlKind,
  type Edge,
  type InputPart,
  type OutputPart,
  type Pattern,
  type Run,
  type Surface,
} from '@rondo/core/surface';
import { inStrip, stripsOf } from '@rondo/core/propose';
import { DocumentEditor } from '../../state/documents';
import { PatternEditor } from './pattern-editor';
import { freshFor } from './pattern-fields';
import { Choice, NumberField, Switch, TextField } from '../../shared/ui/form';
import { InputText } from 'primeng/inputtext';

const EDGE_WORDS: Readonly<Record<Edge, string>> = {
  left: 'Left edges',
  centre: 'Centres',
  right: 'Right edges',
  top: 'Top edges',
  middle: 'Middles',
  bottom: 'Bottom edges',
};

/** Everything about what is selected, in the order of the round: what it is, what it sends, what it takes. */
@Component({
  selector: 'rondo-selection-panel',
  imports: [Choice, InputText, NumberField, PatternEditor, Switch, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './selection-panel.html',
  styleUrl: './selection-panel.css',
})
export class SelectionPanel {
  readonly surface = input.required<Surface>();
  readonly selected = input.required<readonly string[]>();
  /** Onboard page whose messages are shown, 0 for the first. */
  readonly page = input(0);
  readonly hex = input(false);
  /** A run was made: all of it, its first too. */
  readonly made = output<readonly string[]>();

  private readonly editor = inject(DocumentEditor);
  protected readonly kinds = CONTROL_KINDS.map((value) => ({ value, label: KIND_NAMES[value] }));
  protected readonly partNames = PART_NAMES;
  protected readonly lamps = [
    { value: '', label: 'usual' },
    ...LAMPS.map((value) => ({ value, label: value })),
  ];
  protected readonly springs = [
    { value: '', label: 'no' },
    { value: 'centre', label: 'to the centre' },
    { value: 'low', label: 'to the bottom' },
  ];
  protected readonly edges = EDGES.map((edge) => ({ edge, label: EDGE_WORDS[edge] }));
  protected readonly longestRun = LONGEST_RUN;
  protected readonly run = signal<Run>({
    total: 8,
    rows: 1,
    apart: 0,
    dx: 0,
    dy: 0,
    channelBy: 0,
    numberBy: 1,
  });
  protected readonly running = signal(false);
  /** Part whose message was just added. */
  protected readonly added = signal<string | null>(null);

  protected readonly controls = computed(() =>
    this.surface().controls.filter(({ id }) => this.selected().includes(id)),
  );
  protected readonly one = computed(() => {
    const list = this.controls();
    return list.length === 1 ? list[0] : null;
  });
  protected readonly first = computed(() => this.controls()[0] as Control | undefined);
  protected readonly findings = computed(() =>
    findingsOf(this.surface()).filter(({ controls }) =>
      controls.some((id) => this.selected().includes(id)),
    ),
  );
  protected readonly inputs = computed(() => this.partsOf(INPUT_PARTS, 'sends'));
  protected readonly outputs = computed(() => this.partsOf(OUTPUT_PARTS, 'takes'));
  protected readonly takes = computed(() => this.surface().device.takes);
  protected readonly canReverse = computed(() => {
    const one = this.one();
    return one !== null && turns(this.surface(), one, 'value');
  });
  /** What the run would make, in a line. */
  protected readonly preview = computed(() => {
    const one = this.first();
    if (!one || !this.running()) return '';
    const made = numberedRun(this.surface(), one, this.run());
    const last = made.at(-1);
    if (!last) return 'A run has at least two.';
    const message = (control: Control) => {
      const [pattern] = Object.values(control.sends);
      return pattern ? `${control.label}: ${patternText(pattern, this.hex())}` : control.label;
    };
    const without = made.filter(
      (control) => Object.keys(control.sends).length < Object.keys(one.sends).length,
    ).length;
    const lost = without > 0 ? ` ${without} of them get no message: it would leave its range.` : '';
    return `${message(made[0])} … ${message(last)}.${lost}`;
  });

  /** Parts that any of the selection has, with their pattern where it is the same on all. */
  private partsOf<T extends InputPart | OutputPart>(all: readonly T[], side: 'sends' | 'takes') {
    const list = this.controls().map((control) => this.patterns(control, side));
    const has = all.filter((part) => list.some((patterns) => patterns[part] !== undefined));
    return {
      has: has.map((part) => {
        const texts = new Set(list.map((patterns) => JSON.stringify(patterns[part])));
        return {
          part,
          name: PART_NAMES[part],
          pattern: texts.size === 1 ? list[0][part] : undefined,
        };
      }),
      more: all.filter((part) => !has.includes(part)),
    };
  }

  private patterns(
    control: Control,
    side: 'sends' | 'takes',
  ): Partial<Record<InputPart | OutputPart, Pattern>> {
    const page = this.page();
    return page === 0
      ? control[side]
      : (control.pages?.[this.surface().pages[page - 1]?.id]?.[side] ?? {});
  }

  protected change(name: string, change: (control: Control) => void): void {
    const ids = this.controls().map(({ id }) => id);
    this.editor.edit('surface', (surface) =>
      changeControls(surface, name, ids, (draft) => change(draft as Control)),
    );
  }

  protected setPattern(
    side: 'sends' | 'takes',
    part: InputPart | OutputPart,
    pattern: Pattern | null,
  ): void {
    const name = pattern ? `Message of ${PART_NAMES[part]}` : `Remove ${PART_NAMES[part]}`;
    this.change(name, (control) => {
      const patterns = this.messagesOf(control)[side] as Partial<Record<string, Pattern>>;
      if (pattern) patterns[part] = pattern;
      else Reflect.deleteProperty(patterns, part);
    });
  }

  /** What a control that is being changed sends and takes on the page that is shown. */
  private messagesOf(control: Control): Pick<Control, 'sends' | 'takes'> {
    const page = this.page();
    if (page === 0) return control;
    control.pages ??= {};
    return (control.pages[this.surface().pages[page - 1].id] ??= { sends: {}, takes: {} });
  }

  /** Gives the selection a part with a message to start from, opened for change. */
  protected add(side: 'sends' | 'takes', part: InputPart | OutputPart): void {
    this.added.set(part);
    this.change(`Message of ${PART_NAMES[part]}`, (control) => {
      const { sends, [side]: own } = this.messagesOf(control);
      // Plain data, and no part of the draft twice.
      (own as Partial<Record<string, Pattern>>)[part] = { ...freshFor(part, sends) };
    });
  }

  protected setLabel(label: string): void {
    this.change('Rename a control', (control) => {
      control.label = label.trim().slice(0, 40);
    });
  }

  protected renameAll(pattern: string): void {
    const ids = this.controls().map(({ id }) => id);
    if (pattern.trim() !== '')
      this.editor.edit('surface', (surface) => renameAll(surface, ids, pattern.trim()));
  }

  protected setKind(kind: ControlKind): void {
    this.change(`Make it a ${KIND_NAMES[kind]}`, (control) => {
      control.kind = kind;
    });
  }

  protected setSize(key: 'x' | 'y' | 'width' | 'height', value: number | null): void {
    if (value === null) return;
    this.change('Place and size', (control) => {
      control[key] = value;
    });
  }

  protected setText(key: 'legend' | 'inside', text: string): void {
    this.change('Change a text', (control) => {
      const value = text.trim().slice(0, key === 'legend' ? 12 : 120);
      if (value === '') Reflect.deleteProperty(control, key);
      else control[key] = value;
    });
  }

  protected setFlag(key: 'round' | 'latching' | 'detent' | 'silent', on: boolean): void {
    this.change(on ? `Mark as ${key}` : `Mark as not ${key}`, (control) => {
      if (on) control[key] = true;
      else Reflect.deleteProperty(control, key);
    });
  }

  protected setInside(on: boolean): void {
    this.change('Works inside the device', (control) => {
      if (on) control.inside ??= 'its own job is switched off';
      else Reflect.deleteProperty(control, 'inside');
    });
  }

  protected choose(key: 'springs' | 'lamp' | 'across', value: string): void {
    this.change('Behaviour', (control) => {
      if (value === '') Reflect.deleteProperty(control, key);
      else Reflect.set(control, key, value);
    });
  }

  protected setStrip(value: number | null): void {
    const ids = this.controls().map(({ id }) => id);
    this.editor.edit('surface', (surface) =>
      inStrip(surface, ids, value === null ? null : value - 1),
    );
  }

  protected setPositions(typed: string): void {
    const list = typed
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map(Number);
    const good = list.every((value) => Number.isInteger(value) && value >= 0 && value <= 16_383);
    this.change('Positions of a switch', (control) => {
      if (list.length < 2 || !good) Reflect.deleteProperty(control, 'positions');
      else control.positions = [...new Set(list)].sort((a, b) => a - b).slice(0, 64);
    });
  }

  /** Controls that may go with a finger's way across an XY pad. */
  protected readonly acrosses = computed(() => [
    { value: '', label: 'nothing' },
    ...this.surface()
      .controls.filter(({ kind, id }) => mainPart(kind) === 'value' && id !== this.one()?.id)
      .map(({ id, label }) => ({ value: id, label })),
  ]);

  protected setNames(typed: string): void {
    const names = typed
      .split(/[,;]+/)
      .map((name) => name.trim().slice(0, 40))
      .filter(Boolean)
      .slice(0, 64);
    this.change('Lines of a list', (control) => {
      if (names.length === 0) Reflect.deleteProperty(control, 'names');
      else control.names = names;
      // Evenly over what a controller can say, unless it was said otherwise.
      if (names.length > 1 && control.positions?.length !== names.length)
        control.positions = names.map((_, n) => Math.round((n * 127) / (names.length - 1)));
    });
  }

  protected reverse(): void {
    const one = this.one();
    if (one) this.editor.edit('surface', (surface) => reverse(surface, one.id));
  }

  protected align(edge: Edge): void {
    this.editor.edit('surface', (surface) => align(surface, this.selected(), edge));
  }

  protected distribute(along: 'x' | 'y'): void {
    this.editor.edit('surface', (surface) => distribute(surface, this.selected(), along));
  }

  /** The strip that the one control stands in, from 1, said or found; null for none. */
  protected readonly strip = computed(() => {
    const at = stripsOf(this.surface()).get(this.one()?.id ?? '');
    return at === undefined ? null : at + 1;
  });

  /** Opens the form for a numbered run, with the usual step: the control's width and a gap. */
  startRun(): void {
    const first = this.first();
    if (!first) return;
    this.run.update((run) => ({
      ...run,
      dx: Math.round(first.width + 6),
      dy: 0,
      apart: Math.round(first.height + 6),
    }));
    this.running.set(true);
  }

  protected setRun(key: keyof Run, value: number | null): void {
    if (value !== null) this.run.update((run) => ({ ...run, [key]: value }));
  }

  protected makeRun(): void {
    const ids = this.controls().map(({ id }) => id);
    const had = new Set(this.surface().controls.map(({ id }) => id));
    const next = this.editor.edit('surface', (surface) => makeRun(surface, ids, this.run()));
    this.running.set(false);
    const made = (next?.controls ?? []).map(({ id }) => id).filter((id) => !had.has(id));
    this.made.emit([...ids, ...made]);
  }
}
