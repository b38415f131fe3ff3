import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Workbench } from '../workbench';

/** Layers and flags: which are on, which is looked at. */
@Component({
  selector: 'rondo-layer-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div role="group" aria-label="Layers">
      <span class="word">Layers</span>
      @for (layer of layers(); track layer.id) {
        <button
          type="button"
          [class.looked]="layer.looked"
          [attr.aria-pressed]="layer.looked"
          [title]="layer.on ? 'On. Click to look at it.' : 'Off. Click to look at it.'"
          (click)="look(layer.id)"
        >
          <i class="dot" [class.on]="layer.on" aria-hidden="true"></i>{{ layer.label }}
          <span class="visually-hidden">{{ layer.on ? ', on' : ', off' }}</span>
        </button>
      }
      @if (follows()) {
        <small>follows what is on</small>
      } @else {
        <button type="button" class="plain" (click)="bench.chosenLayer.set(null)">
          Follow what is on
        </button>
      }
    </div>
    <div role="group" aria-label="Flags">
      @if (flags().length > 0) {
        <span class="word">Flags</span>
      }
      @for (flag of flags(); track flag.id) {
        <button
          type="button"
          [attr.aria-pressed]="flag.on"
          [title]="flag.on ? 'On. Click to turn it off.' : 'Off. Click to turn it on.'"
          (click)="bench.engine.setFlag(flag.id, !flag.on)"
        >
          <i
            class="flag pi"
            [class.pi-flag-fill]="flag.on"
            [class.pi-flag]="!flag.on"
            aria-hidden="true"
          ></i
          >{{ flag.label }}
        </button>
      }
      <button
        type="button"
        class="plain"
        [attr.aria-pressed]="bench.panel() === 'layers'"
        (click)="open()"
      >
        Edit layers
      </button>
      <button
        type="button"
        class="plain"
        title="Ports, layers, flags and bank for an occasion (U)"
        [attr.aria-pressed]="bench.panel() === 'setUps'"
        (click)="bench.panel.set(bench.panel() === 'setUps' ? 'none' : 'setUps')"
      >
        Set-ups
      </button>
    </div>
    <ng-content />
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 4px 18px;
      min-height: 30px;
      padding: 3px 12px;
      border-bottom: 1px solid var(--line);
      background: var(--sheet);
    }
    div {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 5px;
    }
    .word,
    small {
      color: var(--ink-soft);
      font-size: 12.5px;
    }
    button {
      display: inline-flex;
      align-items: center;
      gap: 6px;
      min-height: 24px;
      padding: 1px 9px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      font-size: 12.5px;
      cursor: pointer;
      white-space: nowrap;
    }
    button.looked {
      border-color: var(--ink);
      box-shadow: inset 0 -2px 0 var(--ink);
      font-weight: 650;
    }
    button.plain {
      border-color: transparent;
      background: none;
      text-decoration: underline;
      text-underline-offset: 3px;
    }
    .dot {
      width: 9px;
      height: 9px;
      border: 1.5px solid var(--ink-soft);
      border-radius: 50%;
    }
    .dot.on {
      border-color: var(--ink);
      background: var(--light-on);
    }
    .flag {
      font-size: 11px;
    }
  `,
})
export class LayerBar {
  protected readonly bench = inject(Workbench);

  protected readonly layers = computed(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    const on = this.bench.on();
    const looked = this.bench.layer();
    return profile.layerOrder.map((id, at) => ({
      id,
      label: profile.layers[id].label,
      on: at === 0 || on.has(id),
      looked: id === looked,
    }));
  });
  protected readonly follows = computed(() => this.bench.chosenLayer() === null);
  protected readonly flags = computed(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    const { flags } = this.bench.engine.states();
    return profile.flagOrder.map((id) => ({
      id,
      label: profile.flags[id].label,
      on: flags[id] ?? profile.flags[id].initially ?? false,
    }));
  });

  protected look(id: string): void {
    this.bench.chosenLayer.set(id);
  }

  protected open(): void {
    this.bench.panel.update((now) => (now === 'layers' ? 'none' : 'layers'));
  }
}
