import { usualBehaviour } from '@rondo/core/profile';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  inject,
  signal,
} from '@angular/core';
import { Button } from 'primeng/button';
import { SELECTED } from '@rondo/core/host';
import type { Action, ControlRef, FunctionAction } from '@rondo/core/profile';
import type { PlainPlan } from '@rondo/core/round';
import { turns, type InputPart } from '@rondo/core/surface';
import { proposePairs, type Movement } from '@rondo/core/teach';
import { EngineService } from '../../../engine/engine.service';
import { Head, PartField, SlotField, type Frame } from '../../../engine/frame';

import { LastBinding } from '../last-binding';
import { Workbench } from '../workbench';

const RHYTHM = { every: 2, turn: 1 };
/** A value that differs by less has not been moved. */
const STILL = 1 / 2_000;
const SURE = 0.6;

interface Row {
  readonly key: string;
  readonly ref: ControlRef;
  readonly control: string;
  readonly action: Action;
  readonly does: string;
  readonly sure: boolean;
  readonly percent: number;
}

/**
 * Several pairs in one pass: controls of the surface and functions of the host are moved in any order, and what was
 * meant for each other is proposed.
 */
@Component({
  selector: 'rondo-pairs',
  imports: [Button],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header>
      <h2>Pairs</h2>
      <p role="status">
        Move a control, then its function in the host, or the other way round; or all controls first
        and then all functions. Nothing that you touch acts meanwhile.
        <strong
          >{{ heard().controls }} controls and {{ heard().functions }} functions moved.</strong
        >
      </p>
      <p-button
        label="Bind all"
        size="small"
        [disabled]="rows().length === 0"
        (onClick)="acceptAll()"
      />
      <p-button
        label="Start over"
        size="small"
        severity="secondary"
        [outlined]="true"
        (onClick)="forget()"
      />
      <p-button
        label="Done"
        size="small"
        severity="secondary"
        [outlined]="true"
        (onClick)="bench.mode.set('hand')"
      />
    </header>
    <ul>
      @for (row of rows(); track row.key) {
        <li>
          <strong>{{ row.control }}</strong>
          <i class="pi pi-arrow-right" aria-hidden="true"></i>
          <strong>{{ row.does }}</strong>
          <small>{{ row.sure ? 'likely' : 'perhaps' }}, {{ row.percent }} %</small>
          <p-button
            [label]="'Bind'"
            size="small"
            [ariaLabel]="'Bind ' + row.control"
            (onClick)="accept(row)"
          />
          <p-button
            label="No"
            size="small"
            severity="secondary"
            [text]="true"
            [ariaLabel]="'Not ' + row.control"
            (onClick)="refuse(row)"
          />
        </li>
      } @empty {
        <li class="none">Pairs appear here as soon as a control and a function have moved.</li>
      }
    </ul>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      gap: 6px;
      height: 100%;
      padding: 6px 16px 0;
    }
    header {
      display: flex;
      align-items: center;
      gap: 10px;
    }
    h2 {
      font-size: 15px;
    }
    header p {
      flex: 1;
      color: var(--ink-soft);
      font-size: 13px;
    }
    ul {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(460px, 1fr));
      align-content: start;
      gap: 4px 20px;
      margin: 0;
      padding: 0;
      overflow: auto;
      list-style: none;
    }
    li {
      display: flex;
      align-items: center;
      gap: 8px;
      min-height: 34px;
      border-bottom: 1px solid var(--line);
    }
    li strong:nth-of-type(2) {
      flex: 1;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    li small,
    .none {
      color: var(--ink-soft);
    }
  `,
})
export class Pairs {
  protected readonly bench = inject(Workbench);
  private readonly last = inject(LastBinding);
  private readonly engine = inject(EngineService);
  private plan: PlainPlan | null = null;
  private heardAt = new Float64Array(0);
  private values = new Float64Array(0);
  private readonly controls = signal<readonly Movement[]>([]);
  private readonly functions = signal<readonly Movement[]>([]);
  private readonly refused = signal<ReadonlySet<string>>(new Set());

  protected readonly heard = computed(() => ({
    controls: new Set(this.controls().map(({ what }) => what)).size,
    functions: new Set(this.functions().map(({ what }) => what)).size,
  }));
  protected readonly rows = computed<Row[]>(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    const refused = this.refused();
    return proposePairs(this.controls(), this.functions()).flatMap((pair): Row[] => {
      const key = `${pair.control} ${pair.function}`;
      const ref = refOf(pair.control);
      const action = this.actionFor(ref, pair.function);
      if (refused.has(key) || !action) return [];
      return [
        {
          key,
          ref,
          control: this.bench.controlName(ref),
          action,
          does: this.bench.namesOf(profile).action(action),
          sure: pair.confidence >= SURE,
          percent: Math.round(pair.confidence * 100),
        },
      ];
    });
  });

  constructor() {
    const stop = this.engine.frames.paint((frame) => this.read(frame), RHYTHM);
    inject(DestroyRef).onDestroy(stop);
  }

  /** Notes what has moved since the last frame. */
  private read(frame: Frame): void {
    const { plan } = frame;
    const fresh = this.plan !== plan;
    if (fresh) {
      this.plan = plan;
      this.heardAt = Float64Array.from(plan.parts, (_, p) => frame.part(p, PartField.At));
      this.values = Float64Array.from(plan.slots, (_, s) => frame.slot(s, SlotField.Value));
      return;
    }
    const moved: Movement[] = [];
    plan.parts.forEach((part, p) => {
      const at = frame.part(p, PartField.At);
      if (at === this.heardAt[p]) return;
      this.heardAt[p] = at;
      if (part.part === 'touch') return;
      moved.push({ t: at / 1_000, what: part.key, switches: part.part === 'push' });
    });
    const changed: Movement[] = [];
    const t = frame.head(Head.Time) / 1_000;
    plan.slots.forEach((slot, s) => {
      const value = frame.slot(s, SlotField.Value);
      if (Math.abs(value - this.values[s]) < STILL) return;
      this.values[s] = value;
      const { kind } = slot.fn;
      // What a host shows by itself, or shows a second time, is nobody's move.
      if (slot.link < 0 || !slot.settable || slot.strip === SELECTED) return;
      if (kind === 'meter' || kind === 'text') return;
      changed.push({ t, what: slot.key, switches: kind !== 'continuous' });
    });
    if (moved.length > 0) this.controls.update((list) => [...list, ...moved]);
    if (changed.length > 0) this.functions.update((list) => [...list, ...changed]);
  }

  private actionFor(ref: ControlRef, key: string): Action | null {
    const slot = this.plan?.slots.find((one) => one.key === key);
    const surface = this.bench.surfaceOf(ref.surface);
    const control = surface?.controls.find(({ id }) => id === ref.control);
    if (!this.plan || !slot || !surface || !control) return null;
    const behaviour = usualBehaviour(slot.fn, ref.part, turns(surface, control, ref.part));
    if (!behaviour) return null;
    const scope: FunctionAction['scope'] =
      slot.strip < 0 ? { kind: 'host' } : { kind: 'fixed', strip: slot.strip };
    return {
      do: 'function',
      host: this.plan.links[slot.link].id,
      function: slot.fn.id,
      scope,
      ...behaviour,
    };
  }

  protected accept(row: Row): void {
    this.last.bind(row.action, row.ref, 'replace', 'press');
    this.drop(row);
  }

  protected acceptAll(): void {
    for (const row of this.rows()) this.last.bind(row.action, row.ref, 'replace', 'press');
    this.forget();
  }

  /** Takes a pair's movements out, so that they are not paired again. */
  private drop(row: Row): void {
    const [control, fn] = row.key.split(' ');
    this.controls.update((list) => list.filter(({ what }) => what !== control));
    this.functions.update((list) => list.filter(({ what }) => what !== fn));
  }

  protected refuse(row: Row): void {
    this.refused.update((set) => new Set([...set, row.key]));
  }

  protected forget(): void {
    this.controls.set([]);
    this.functions.set([]);
    this.refused.set(new Set());
  }
}

/** A control part from its key in the plan. */
function refOf(key: string): ControlRef {
  const [surface, control, part] = key.split('/');
  return { surface, control, part: part as InputPart };
}
