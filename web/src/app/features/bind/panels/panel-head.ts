import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { Workbench } from '../workbench';

/** The heading of what is open for editing beside the drawing. */
@Component({
  selector: 'rondo-panel-head',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>{{ title() }}</h2>
    <small>{{ about() }}</small>
    <button type="button" aria-label="Close" (click)="close()">
      <i class="pi pi-times" aria-hidden="true"></i>
    </button>
  `,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    h2 {
      font-size: 15px;
      white-space: nowrap;
    }
    small {
      flex: 1;
      overflow: hidden;
      color: var(--ink-soft);
      font-size: 12.5px;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    button {
      width: 28px;
      height: 28px;
      border: 0;
      border-radius: 4px;
      background: none;
      cursor: pointer;
    }
    button:hover {
      background: var(--line);
    }
  `,
})
export class PanelHead {
  readonly title = input.required<string>();
  readonly about = input('');
  protected readonly bench = inject(Workbench);

  protected close(): void {
    this.bench.panel.set('none');
    this.bench.causeId.set(null);
  }
}
