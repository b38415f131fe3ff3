import { Injectable, effect, inject, signal, untracked } from '@angular/core';
import {
  editBindings,
  editLayer,
  mendReferences,
  removeBindings,
  type Action,
} from '@rondo/core/profile';
import type { Broken, PlainPlan } from '@rondo/core/round';
import { BEHAVIOUR_WORDS } from '../../../shared/words/behaviour-words';
import { SetUps } from '../../../state/set-ups';
import { Workbench } from '../workbench';
import type { Row } from './sheet-rows';

/** How what is broken is mended, line by line. */
@Injectable()
export class Mends {
  private readonly bench = inject(Workbench);
  private readonly setUps = inject(SetUps);
  /** Binding whose lost function is to be replaced. */
  readonly lost = signal<string | null>(null);
  /** What mends by a plan's places, one after the other, each by the plan of what stands then. */
  private readonly waiting = signal<readonly ((plan: PlainPlan) => void)[]>([]);

  constructor() {
    effect(() => {
      const [mend, ...others] = this.waiting();
      const profile = this.bench.profile();
      // Told anew whenever a plan is made.
      const plan = this.bench.engine.plan && profile && this.bench.engine.planOf(profile);
      if (!mend || !plan) return;
      untracked(() => {
        this.waiting.set(others);
        mend(plan);
      });
    });
  }

  private byPlan(mend: (plan: PlainPlan) => void): void {
    this.waiting.update((before) => [...before, mend]);
  }

  /** What mends a broken line, in a word or two. */
  mendWord({ what, mend }: Broken): string {
    switch (what) {
      case 'function':
        return 'Choose another';
      case 'control':
        return this.bench.selected() ? 'Put it on the control in hand' : 'Remove';
      case 'message':
        return 'Edit it';
      case 'behaviour':
        return mend ? `Use “${BEHAVIOUR_WORDS[mend].label}”` : 'Put it on the control in hand';
      default:
        return 'Take that out';
    }
  }

  /** Mends a line, or begins to. What can only be edited is left to that. */
  mend(row: Row): void {
    const { what, mend } = row.broken ?? {};
    if (what === 'behaviour' && mend) this.mendBehaviour(row.id);
    else if (what === 'function') this.lost.set(row.id);
    else if (what === 'control' || what === 'behaviour') this.moveToHand(row.id);
    else if (what === 'setUp') this.dropSetUps(row.id);
    else if (row.layer.endsWith('(gone)'))
      this.bench.edit((profile) =>
        editBindings(profile, 'Put on the lowest layer', [row.id], (binding) => {
          binding.layer = profile.layerOrder[0];
        }),
      );
    else this.bench.edit((profile) => mendReferences(profile, [row.id]));
  }

  /** Gives each action of a binding that cannot work there the behaviour by which it would. */
  private mendBehaviour(id: string): void {
    this.byPlan((plan) => {
      const run = plan.bindings.find((one) => one.id === id);
      if (!run) return;
      this.bench.edit((profile) =>
        editBindings(profile, 'Mend the behaviour', [id], ({ actions }) =>
          actions.forEach((action, n) => {
            const { mend } = plan.actions[run.first + n];
            if (mend && action.do === 'function') action.behaviour = mend;
          }),
        ),
      );
    });
  }

  /** Takes out what goes over to set-ups that are not there any more. */
  private dropSetUps(id: string): void {
    const ids = this.setUps.ids();
    if (!ids) return;
    this.bench.edit((profile) => {
      const rest = profile.bindings[id].actions.filter(
        (action) => action.do !== 'setUp' || ids.has(action.setUp),
      );
      return rest.length === 0
        ? removeBindings(profile, 'Remove a binding', [id])
        : editBindings(profile, 'Take a set-up out', [id], (binding) => {
            binding.actions = rest as typeof binding.actions;
          });
    });
  }

  private moveToHand(id: string): void {
    const ref = this.bench.selected();
    this.bench.edit((profile) =>
      ref
        ? editBindings(profile, `Put on ${this.bench.controlName(ref)}`, [id], (binding) => {
            binding.control = { ...ref };
          })
        : removeBindings(profile, 'Remove a binding', [id]),
    );
  }

  /** Takes out of a layer what cannot work: circles, and what would turn a state over. */
  mendLayer(broken: Broken): void {
    this.byPlan((plan) => {
      const layer = plan.layers.find(({ id }) => id === broken.layer);
      if (!layer) return;
      this.bench.edit((profile) =>
        editLayer(profile, `Mend ${layer.label}`, layer.id, (draft) => {
          for (const event of ['enter', 'leave'] as const) {
            const { first } = layer[event];
            draft[event] = draft[event]?.filter((_, n) => !plan.actions[first + n].broken);
          }
          if (broken.what === 'control') delete draft.page;
        }),
      );
    });
  }

  /** Another function stands where one was lost. */
  replaceLost(action: Action): void {
    const id = this.lost();
    this.lost.set(null);
    if (!id) return;
    this.bench.edit((profile) =>
      editBindings(profile, 'Choose another function', [id], ({ actions }) => {
        const plan = this.bench.engine.planOf(profile);
        const run = plan?.bindings.find((one) => one.id === id);
        const lost = run ? actions.findIndex((_, n) => plan?.actions[run.first + n].broken) : 0;
        actions[Math.max(0, lost)] = action as (typeof actions)[number];
      }),
    );
  }
}
