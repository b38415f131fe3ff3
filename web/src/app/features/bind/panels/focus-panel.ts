import { CdkDrag, CdkDropList, moveItemInArray, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { edit } from '@rondo/core/document';
import { PanelHead } from './panel-head';
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
            <span class="label">{{ parameter.label }}</span>
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
        <small>Bind controls to “Parameter 1 of the plug-in in focus” and so on.</small>
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
    }
  `,
})
export class FocusPanel {
  protected readonly bench = inject(Workbench);
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

  protected drop(event: CdkDragDrop<unknown>): void {
    this.move(event.previousIndex, event.currentIndex);
  }

  protected move(from: number, to: number): void {
    const host = this.host();
    const item = this.items().at(this.at());
    if (!host || !item || from === to) return;
    const order = this.parameters().map(({ id }) => id);
    moveItemInArray(order, from, to);
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
