import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { Select } from 'primeng/select';
import { HOST_MODELS } from '@rondo/core/host';
import {
  addHost,
  addSurface,
  bindingsOn,
  removeHost,
  removeSurface,
  type Profile,
} from '@rondo/core/profile';
import { STOCK_SURFACES } from '@rondo/core/surface';
import { listActions } from '../state/actions';
import { DocumentEditor } from '../state/documents';
import { listFeature } from '../state/list';

/** The surfaces and hosts of a profile: add one, take one out. */
@Component({
  selector: 'rondo-surface-picker',
  imports: [Button, FormsModule, RouterLink, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (s of here(); track s.id) {
        <li>
          <span>
            {{ s.label }}
            <small>{{ s.bound === 1 ? '1 binding' : s.bound + ' bindings' }}</small>
          </span>
          @if (s.own) {
            <a [routerLink]="['/surfaces', s.model]">Edit</a>
          }
          <p-button
            label="Take out"
            size="small"
            severity="secondary"
            [text]="true"
            (onClick)="takeOut(s.id)"
          />
        </li>
      } @empty {
        <li class="none">No surface yet. Choose one below.</li>
      }
    </ul>
    <p-select
      appendTo="body"
      placeholder="Add a surface …"
      ariaLabel="Add a surface"
      [options]="choices()"
      [group]="true"
      optionLabel="label"
      optionValue="value"
      [ngModel]="null"
      (ngModelChange)="add($event)"
    />
    <h3>Hosts</h3>
    <ul>
      @for (h of hosts(); track h.id) {
        <li>
          <span>{{ h.label }}</span>
          <p-button
            label="Take out"
            size="small"
            severity="secondary"
            [text]="true"
            (onClick)="takeOutHost(h.id)"
          />
        </li>
      } @empty {
        <li class="none">No host yet. Choose one below.</li>
      }
    </ul>
    <p-select
      appendTo="body"
      placeholder="Add a host …"
      ariaLabel="Add a host"
      [options]="models"
      optionLabel="name"
      optionValue="id"
      [ngModel]="null"
      (ngModelChange)="addHost($event)"
    />
    <p>Taking one out also takes its bindings out. Undo brings both back.</p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      width: 340px;
    }
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      align-items: center;
      gap: 10px;
      min-height: 40px;
      border-bottom: 1px solid var(--line);
    }
    li > span {
      flex: 1;
      font-weight: 600;
    }
    small,
    p,
    .none {
      color: var(--ink-soft);
      font-weight: 400;
      font-size: 13px;
    }
    a {
      color: var(--ink);
    }
  `,
})
export class SurfacePicker {
  readonly profile = input.required<Profile>();
  private readonly editor = inject(DocumentEditor);
  private readonly store = inject(Store);
  private readonly list = this.store.selectSignal(listFeature.selectSurface);

  protected readonly here = computed(() => {
    const profile = this.profile();
    return profile.surfaceOrder.map((id) => ({
      ...profile.surfaces[id],
      bound: bindingsOn(profile, id),
      own: !STOCK_SURFACES.has(profile.surfaces[id].model),
    }));
  });
  protected readonly choices = computed(() => {
    const own = (this.list().documents ?? []).map(({ id, name }) => ({ value: id, label: name }));
    const stock = [...STOCK_SURFACES.values()].filter(({ controls }) => controls.length > 0);
    return [
      ...(own.length > 0 ? [{ label: 'Your own', items: own }] : []),
      {
        label: 'That come with Rondo',
        items: stock.map(({ id, name }) => ({ value: id, label: name })),
      },
    ];
  });

  protected readonly models = [...HOST_MODELS.values()].map(({ id, name }) => ({ id, name }));
  protected readonly hosts = computed(() =>
    this.profile().hostOrder.map((id) => this.profile().hosts[id]),
  );

  constructor() {
    this.store.dispatch(listActions.load({ kind: 'surface' }));
  }

  protected add(model: string | null): void {
    const name = this.choices()
      .flatMap(({ items }) => items)
      .find(({ value }) => value === model)?.label;
    if (model && name) this.editor.edit('profile', (profile) => addSurface(profile, model, name));
  }

  protected takeOut(id: string): void {
    this.editor.edit('profile', (profile) => removeSurface(profile, id));
  }

  protected addHost(model: string | null): void {
    const name = this.models.find(({ id }) => id === model)?.name;
    if (model && name) this.editor.edit('profile', (profile) => addHost(profile, model, name));
  }

  protected takeOutHost(id: string): void {
    this.editor.edit('profile', (profile) => removeHost(profile, id));
  }
}
