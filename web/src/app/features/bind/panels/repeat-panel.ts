import { choicesOf } from '@rondo/core/host';
import type { Control } from '@rondo/core/surface';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import {
  alongsOf,
  applySeries,
  copyToLayer,
  mirror,
  mirrorPreview,
  controlsLike,
  seriesOf,
  swapControls,
  type Action,
  type Along,
  type MirrorOrder,
  type MirrorSpec,
  type Side,
} from '@rondo/core/profile';
import { stripName } from '../names';
import { PanelHead } from './panel-head';
import { NextTouch } from '../next-touch';
import { Workbench } from '../workbench';
import { ActMenu, Choice, NumberField, OneOf, Switch, type Option } from '../../../shared/ui/form';

/** Controls that are named one by one. */
const MOST_NAMED = 6;

const ALONG_WORDS: Readonly<Record<Along, string>> = {
  strip: 'the next strip',
  number: 'the next of its numbers',
  value: 'the next value',
  row: 'the next row of the chart',
  message: 'the next message number',
  note: 'the next note',
  nothing: 'always the same',
};

/** One binding for many controls: a series, a mirrored half, copies and exchanges. */
@Component({
  selector: 'rondo-repeat-panel',
  imports: [ActMenu, Choice, NumberField, OneOf, PanelHead, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './repeat-panel.html',
  styleUrls: ['../../../shared/ui/panel.css', './repeat-panel.css'],
})
export class RepeatPanel {
  protected readonly bench = inject(Workbench);
  protected readonly next = inject(NextTouch);
  protected readonly controlStep = signal(1);
  protected readonly by_ = signal(1);
  protected readonly half = signal<Side>('left');
  protected readonly halves: readonly Option<Side>[] = [
    { value: 'left', label: 'Left half to the right' },
    { value: 'right', label: 'Right half to the left' },
    { value: 'top', label: 'Upper half to the lower' },
    { value: 'bottom', label: 'Lower half to the upper' },
  ];
  protected readonly order = signal<MirrorOrder>('same');
  protected readonly orders: readonly Option<MirrorOrder>[] = [
    { value: 'same', label: 'In the same order' },
    { value: 'mirrored', label: 'As in a mirror' },
  ];
  /** What is bound in the other half stays. */
  protected readonly keeping = signal(false);
  protected readonly stripFrom = signal(0);
  protected readonly stripTo = signal(1);
  protected readonly made = linkedSignal<unknown, number>({
    source: () => this.bench.selected(),
    computation: () => 0,
  });

  protected readonly about = computed(() => {
    const selected = this.bench.selected();
    return selected ? `from ${this.bench.controlName(selected)} on` : '';
  });
  private readonly run = computed(() => {
    const surface = this.bench.surface();
    const control = this.bench.control();
    const part = this.bench.selected()?.part;
    return surface && control && part ? controlsLike(surface, control, part) : [];
  });
  protected readonly most = computed(() => {
    const control = this.bench.control();
    return control ? this.run().length - this.run().indexOf(control) : 0;
  });
  protected readonly count_ = linkedSignal<number, number>({
    source: this.most,
    computation: (most) => Math.min(8, Math.max(2, most)),
  });
  protected readonly alongs = computed(() => {
    // What any of its actions can count on, that of the first before the others.
    const all = (this.bench.binding()?.actions ?? []).flatMap((action) =>
      alongsOf(action, action.do === 'function' ? this.bench.hostModel(action.host) : undefined),
    );
    const counting = all.filter((along) => along !== 'nothing');
    const [first] = this.bench.binding()?.actions ?? [];
    const isFocus = first?.do === 'function' && first.scope.kind === 'focus';
    return [...new Set(all.length > 0 ? [...counting, 'nothing' as const] : [])].map((value) => ({
      value,
      label: value === 'strip' && isFocus ? 'the next parameter' : ALONG_WORDS[value],
    }));
  });
  protected readonly along_ = linkedSignal<Along, Along>({
    source: () => this.alongs().at(0)?.value ?? 'nothing',
    computation: (first) => first,
  });
  private readonly entries = computed(() => {
    const profile = this.bench.profile();
    const surface = this.bench.surface();
    const binding = this.bench.binding();
    if (!profile || !surface || !binding) return [];
    return seriesOf(
      profile,
      surface,
      {
        binding: binding.id,
        count: this.count_(),
        controlStep: this.controlStep(),
        along: this.along_(),
        by: this.by_(),
        controls: this.next.run()?.controls,
      },
      (host) => this.bench.hostModel(host),
    );
  });
  protected readonly preview = computed(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    const isChosen = this.next.run() !== null;
    return this.entries().map(({ control, label, actions, taken }, at) => ({
      id: control.control,
      label,
      taken,
      leaves: isChosen && at > 0,
      does: (actions ?? []).map((action) => this.nameOf(action)).join(', '),
    }));
  });
  protected readonly ready = computed(
    () => this.entries().filter(({ actions }) => actions !== null).length - 1,
  );
  protected readonly layers = computed(() => {
    const profile = this.bench.profile();
    const here = this.bench.binding()?.layer;
    return (profile?.layerOrder ?? [])
      .filter((id) => id !== here)
      .map((id) => ({ value: id, label: profile?.layers[id].label ?? id }));
  });
  protected readonly alike = computed(() =>
    this.run()
      .filter(({ id }) => id !== this.bench.selected()?.control)
      .map(({ id, label }) => ({ value: id, label })),
  );
  protected readonly strips = computed(() => {
    const profile = this.bench.profile();
    const model = profile ? this.bench.hostModel(profile.hostOrder[0] ?? '') : undefined;
    return (model?.strips ?? []).map((_, value) => ({
      value,
      label: stripName(model, value),
    }));
  });
  /** What copying the half does, in words. */
  protected readonly mirrored = computed(() => {
    const profile = this.bench.profile();
    const spec = this.mirrorSpec();
    const surface = this.bench.surface();
    if (!profile || !surface || !spec) return null;
    const { pairs, replaces, leftOut } = mirrorPreview(profile, surface, spec);
    return {
      count: pairs.length - (this.keeping() ? replaces.length : 0),
      replaces: listed(replaces),
      leftOut: listed(leftOut),
    };
  });
  /** Which of the two is shown on the drawing: the one that the hand is at. */
  protected readonly shown = signal<'series' | 'half'>('series');
  private readonly seriesMade = computed(() => {
    const profile = this.bench.profile();
    const binding = this.bench.binding();
    if (!profile || !binding || this.ready() < 1) return null;
    const bound = this.entries()
      .slice(1)
      .filter(({ actions }) => actions !== null);
    return {
      profile: applySeries(profile, 'Series', binding.id, this.entries()).document,
      layer: binding.layer,
      marks: this.marksOf(bound.map(({ control }) => control.control)),
    };
  });
  private readonly halfMade = computed(() => {
    const profile = this.bench.profile();
    const spec = this.mirrorSpec();
    const surface = this.bench.surface();
    if (!profile || !surface || !spec) return null;
    const { pairs, replaces } = mirrorPreview(profile, surface, spec);
    const kept = new Set(spec.keep ? replaces.map(({ id }) => id) : []);
    return {
      profile: mirror(profile, 'Half', surface, spec).document,
      layer: this.bench.layer(),
      marks: this.marksOf(pairs.map(({ to }) => to.id).filter((id) => !kept.has(id))),
    };
  });
  private readonly mirrorSpec = computed<MirrorSpec | null>(() => {
    const id = this.bench.selected()?.surface;
    const [from, to] = [this.stripFrom(), this.stripTo()];
    return id === undefined
      ? null
      : {
          surface: id,
          from: this.half(),
          order: this.order(),
          strips: from === to ? null : { from, to },
          keep: this.keeping(),
        };
  });

  private nameOf(action: Action): string {
    const profile = this.bench.profile();
    if (!profile) return '';
    const name = this.bench.namesOf(profile).action(action);
    if (action.do !== 'function' || action.behaviour !== 'set') return name;
    const fn = this.bench
      .hostModel(action.host)
      ?.functions.find(({ id }) => id === action.function);
    const choices = choicesOf(fn);
    const text = choices?.[Math.round((action.to ?? 1) * (choices.length - 1))];
    return text ? `${name}: ${text}` : name;
  }

  constructor() {
    // The preview is the drawing itself: what would be bound stands there, marked.
    effect(() => {
      const shown = this.shown() === 'half' ? this.halfMade() : this.seriesMade();
      untracked(() => this.bench.preview.set(shown));
    });
    // What was chosen for one binding is nothing for another.
    effect(() => {
      this.bench.selected();
      untracked(() => this.next.run.set(null));
    });
    inject(DestroyRef).onDestroy(() => {
      this.bench.preview.set(null);
      this.next.run.set(null);
    });
  }

  private marksOf(controls: readonly string[]): ReadonlySet<string> {
    const surface = this.bench.selected()?.surface ?? '';
    return new Set(controls.map((id) => `${surface} ${id}`));
  }

  protected leaveOut(control: string): void {
    this.next.run.update(
      (run) => run && { ...run, controls: run.controls.filter((id) => id !== control) },
    );
  }

  protected make(): void {
    const binding = this.bench.binding();
    const entries = this.entries();
    const ready = this.ready();
    if (!binding || ready < 1) return;
    this.bench.edit((profile) =>
      applySeries(profile, `Series of ${ready + 1}`, binding.id, entries),
    );
    this.made.set(ready);
    this.next.run.set(null);
  }

  protected copyTo(id: string, layer: string): void {
    this.bench.edit((profile) =>
      copyToLayer(profile, `Copy to ${profile.layers[layer].label}`, [id], layer, 'replace'),
    );
  }

  protected swapWith(control: string): void {
    const selected = this.bench.selected();
    const layer = this.bench.binding()?.layer;
    if (!selected) return;
    const other = { ...selected, control };
    const name = `Swap ${this.bench.controlName(selected)} and ${this.bench.controlName(other)}`;
    this.bench.edit((profile) => swapControls(profile, name, selected, other, layer));
  }

  protected mirrorHalf(): void {
    const surface = this.bench.surface();
    const spec = this.mirrorSpec();
    if (!surface || !spec) return;
    this.bench.edit((profile) => mirror(profile, `Copy the ${spec.from} half`, surface, spec));
  }
}

/** Names of controls, the first of many. */
function listed(controls: readonly Control[]): string {
  const names = controls.map(({ label }) => label);
  const more = names.length - MOST_NAMED;
  return more > 0 ? `${names.slice(0, MOST_NAMED).join(', ')} and ${more} more` : names.join(', ');
}
