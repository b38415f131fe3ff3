import { CdkDrag, CdkDropList, moveItemInArray, type CdkDragDrop } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { edit } from '@rondo/core/document';
import type { ControlRef } from '@rondo/core/profile';
import { OutField } from '../../../engine/frame';
import { PanelHead } from './panel-head';
import { NextTouch } from '../next-touch';
import { Workbench } from '../workbench';
import { OneOf } from '../../../shared/ui/form';

/** Which parameters of a plug-in stand in which place when it has focus. */
@Component({
  selector: 'rondo-focus-panel',
  imports: [CdkDrag, CdkDropList, OneOf, PanelHead],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head
      title="Parameters of the plug-in in focus"
      about="Their order, for each by itself."
    />
    <div class="body">
      <rondo-one-of
        label="What can have focus"
        [options]="choices()"
        [value]="at()"
        (chosen)="at.set($event)"
      />
      <ol cdkDropList (cdkDropListDropped)="drop($event)">
        @for (
          parameter of parameters();
          track parameter.id;
          let i = $index;
          let first = $first;
          let last = $last
        ) {
          <li class="row" cdkDrag>
            <i class="pi pi-bars" aria-hidden="true"></i>
            <span class="place">{{ i + 1 }}</span>
            <button
              type="button"
              class="label"
              title="Choose it, then touch the control that is to have it"
              [attr.aria-pressed]="waits() === parameter.id"
              (click)="wait(parameter.id)"
            >
              {{ parameter.label }}
            </button>
            <button
              type="button"
              class="icon"
              [attr.aria-label]="parameter.label + ' earlier'"
              [disabled]="first"
              (click)="move(i, i - 1)"
            >
              <i class="pi pi-arrow-up" aria-hidden="true"></i>
            </button>
            <button
              type="button"
              class="icon"
              [attr.aria-label]="parameter.label + ' later'"
              [disabled]="last"
              (click)="move(i, i + 1)"
            >
              <i class="pi pi-arrow-down" aria-hidden="true"></i>
            </button>
          </li>
        }
      </ol>
      <div class="row">
        <button type="button" class="small" [disabled]="!items()[at()]?.own" (click)="putBack()">
          Reset to the plug-in’s own order
        </button>
        @if (says(); as text) {
          <small role="status">{{ text }}</small>
        } @else {
          <small>
            Drag one, or choose it and touch its control. Controls are bound to “Parameter 1 of the
            plug-in in focus” and so on.
          </small>
        }
      </div>
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    li {
      padding: 2px 6px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      cursor: grab;
    }
    .place {
      width: 20px;
      color: var(--ink-soft);
      text-align: right;
    }
    .label {
      flex: 1;
      min-height: 26px;
      padding: 0 4px;
      border: 1px solid transparent;
      border-radius: 4px;
      background: none;
      text-align: left;
      cursor: pointer;
    }
    .label[aria-pressed='true'] {
      border-color: var(--forward);
      background: var(--forward-soft);
    }
  `,
})
export class FocusPanel {
  protected readonly bench = inject(Workbench);
  private readonly next = inject(NextTouch);
  protected readonly at = signal(0);

  /** The host whose picture is shown, where it has parameters in focus; else the first that has. */
  private readonly host = computed(() => {
    const hosts = this.bench.profile()?.hostOrder ?? [];
    const shown = hosts.includes(this.bench.hostShown()) ? this.bench.hostShown() : hosts.at(0);
    const has = (id: string | undefined) => id !== undefined && this.bench.hostModel(id)?.focus;
    return has(shown) ? shown : hosts.find(has);
  });
  protected readonly items = computed(() => {
    const host = this.host();
    const orders = host ? this.bench.profile()?.focusOrders?.[host] : undefined;
    return (host ? (this.bench.hostModel(host)?.focus?.items ?? []) : []).map((item) => ({
      ...item,
      own: orders?.[item.label] !== undefined,
    }));
  });
  protected readonly choices = computed(() =>
    this.items().map(({ label, own }, value) => ({ value, label: own ? `${label} •` : label })),
  );
  protected readonly parameters = computed(() => {
    const host = this.host();
    const item = this.items().at(this.at());
    if (!host || !item) return [];
    const model = this.bench.hostModel(host);
    const wanted = this.bench.profile()?.focusOrders?.[host]?.[item.label] ?? [];
    const order = [
      ...wanted.filter((id) => item.parameters.includes(id)),
      ...item.parameters.filter((id) => !wanted.includes(id)),
    ];
    return order.map((id) => ({
      id,
      label: model?.functions.find((fn) => fn.id === id)?.label ?? id,
    }));
  });

  /** The parameter that waits for its control; '' where none does. */
  protected readonly waits = signal('');
  protected readonly says = signal('');

  constructor() {
    inject(DestroyRef).onDestroy(() => this.next.pairing.set(false));
    effect(() => {
      const touched = this.bench.touched();
      const waiting = untracked(this.waits);
      if (!touched || waiting === '') return;
      untracked(() => this.give(waiting, touched));
    });
  }

  /** Nothing that is touched acts while one waits for its control. */
  protected wait(id: string): void {
    const waiting = this.waits() === id ? '' : id;
    this.waits.set(waiting);
    this.next.pairing.set(waiting !== '');
    this.says.set(waiting === '' ? '' : 'Touch the control that is to have it.');
  }

  /** A parameter and the one that a control has now change places. */
  private give(parameter: string, control: ControlRef): void {
    const order = this.parameters().map(({ id }) => id);
    const has = this.parameterOn(control);
    const [from, to] = [order.indexOf(parameter), has === null ? -1 : order.indexOf(has)];
    if (to < 0) {
      this.says.set(
        `${this.bench.controlName(control)} has no parameter of this plug-in. Touch another control.`,
      );
      return;
    }
    this.wait(parameter);
    this.reorder((list) => {
      [list[from], list[to]] = [list[to], list[from]];
    });
    this.says.set(`${this.bench.controlName(control)} has it now. Undo takes that back.`);
  }

  /** The parameter that a control has now: what it shows, else the one of its place on the first page. */
  private parameterOn(control: ControlRef): string | null {
    const action = this.bench
      .stack()
      ?.of(control)
      ?.binding.actions.find((one) => one.do === 'function' && one.scope.kind === 'focus');
    if (action?.do !== 'function' || action.scope.kind !== 'focus') return null;
    const { now: frame } = this.bench.engine.frames;
    const out = frame?.plan.outs.findIndex(
      (one, at) =>
        one.key.startsWith(`${control.surface}/${control.control}/`) &&
        frame.out(at, OutField.Slot) >= 0,
    );
    const slot = frame && out !== undefined && out >= 0 ? frame.out(out, OutField.Slot) : -1;
    const shown = slot >= 0 ? frame?.plan.slots[slot].fn.id : undefined;
    const parameters = this.parameters().map(({ id }) => id);
    return shown !== undefined && parameters.includes(shown)
      ? shown
      : (parameters.at(action.scope.slot) ?? null);
  }

  protected drop(event: CdkDragDrop<unknown>): void {
    this.move(event.previousIndex, event.currentIndex);
  }

  protected move(from: number, to: number): void {
    if (from !== to) this.reorder((order) => moveItemInArray(order, from, to));
  }

  private reorder(change: (order: string[]) => void): void {
    const host = this.host();
    const item = this.items().at(this.at());
    if (!host || !item) return;
    const order = this.parameters().map(({ id }) => id);
    change(order);
    this.bench.edit((profile) =>
      edit(profile, `Order of ${item.label}`, (draft) => {
        draft.focusOrders = {
          ...draft.focusOrders,
          [host]: { ...draft.focusOrders?.[host], [item.label]: order },
        };
      }),
    );
  }

  protected putBack(): void {
    const host = this.host();
    const item = this.items().at(this.at());
    if (!host || !item) return;
    this.bench.edit((profile) =>
      edit(profile, `Own order of ${item.label}`, (draft) => {
        const orders = draft.focusOrders?.[host];
        if (orders) Reflect.deleteProperty(orders, item.label);
      }),
    );
  }
}
