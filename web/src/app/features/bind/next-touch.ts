import { Injectable, computed, inject, signal } from '@angular/core';
import { targetOf, type Action, type ControlRef, type OutputRef } from '@rondo/core/profile';
import { inputsOf } from '@rondo/core/surface';
import { LastBinding } from './last-binding';
import { choicesFor } from './round/choices';
import { Workbench } from './workbench';

/** What was pointed at, or found before there was a control for it. */
export interface Pointed {
  readonly action: Action;
  readonly name: string;
}

/** Controls of one surface that are being chosen one by one, in their order. */
export interface Run {
  readonly controls: readonly string[];
  /** Any controls do; else only those that can take what is in hand. */
  readonly any?: boolean;
  /** The surface of the first one. */
  readonly surface?: string;
}

/** What the next touch of a control is for, where it is not to take it in hand and to act. */
@Injectable()
export class NextTouch {
  private readonly bench = inject(Workbench);
  private readonly last = inject(LastBinding);

  /** Finders that are open: while something is chosen, touches show and do not act. */
  readonly choosing = signal(0);
  /** The function that was pointed at in a host's picture and waits for its control. */
  readonly pointed = signal<Pointed | null>(null);
  /** Why the control that was touched cannot take what was pointed at. */
  readonly misfit = signal('');
  /** Lights that are being gathered to show what is in hand; null while none are. */
  readonly gathered = signal<readonly OutputRef[] | null>(null);
  /** Controls that are being chosen one by one; null while none are. */
  readonly run = signal<Run | null>(null);
  /** The next touch says which control stands in for another. */
  readonly pairing = signal(false);
  /** Touches show and do not act. */
  readonly isAwaited = computed(
    () =>
      this.choosing() > 0 ||
      this.bench.mode() === 'pairs' ||
      this.pointed() !== null ||
      this.pairing() ||
      this.gathered() !== null ||
      this.run() !== null,
  );

  /** Binds what was pointed at to the control that is touched; what cannot be is told. */
  bindPointed(ref: ControlRef): void {
    const pointed = this.pointed();
    const surface = this.bench.surfaceOf(ref.surface);
    const control = surface?.controls.find(({ id }) => id === ref.control);
    const profile = this.bench.profile();
    if (!pointed || !profile || !surface || !control) return;
    const target = targetOf(pointed.action);
    const fits = choicesFor(this.bench.namesOf(profile), surface, control, ref.part, (one) =>
      this.bench.controlName(one),
    );
    const action = fits.find((choice) => targetOf(choice.action) === target)?.action;
    if (!action) {
      this.misfit.set(
        `${pointed.name} cannot be driven by ${this.bench.controlName(ref)}. Touch another control.`,
      );
      return;
    }
    this.misfit.set('');
    this.pointed.set(null);
    this.last.bind(action, ref, 'replace', 'press');
  }

  /** Takes a control into those that are being chosen; it stands there once. */
  takeIntoRun(surface: string, control: string): void {
    const run = this.run();
    if (!run || run.controls.includes(control) || !this.fitsRun(run, surface, control)) return;
    this.run.set({ ...run, surface, controls: [...run.controls, control] });
  }

  private fitsRun(run: Run, surface: string, control: string): boolean {
    if (run.any) return run.surface === undefined || run.surface === surface;
    const first = this.bench.selected();
    const of = this.bench.surface();
    if (!first || !of || surface !== first.surface || control === first.control) return false;
    const found = of.controls.find(({ id }) => id === control);
    return found !== undefined && inputsOf(of, found).includes(first.part);
  }

  /** Adds the light of a control to those that are gathered. */
  gather(surface: string, control: string): void {
    const found = this.bench.surfaceOf(surface)?.controls.find(({ id }) => id === control);
    if (!found?.takes.light) return;
    this.gathered.update((list) =>
      list && !list.some((one) => one.surface === surface && one.control === control)
        ? [...list, { surface, control, part: 'light' as const }]
        : list,
    );
  }
}
