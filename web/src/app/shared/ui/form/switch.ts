import {
  ChangeDetectionStrategy,
  Component,
  Injector,
  afterNextRender,
  afterRenderEffect,
  inject,
  input,
  output,
  viewChild,
} from '@angular/core';
import { ToggleSwitch } from 'primeng/toggleswitch';

let count = 0;

/** On or off, with its words beside it. It shows what it was given. */
@Component({
  selector: 'rondo-switch',
  imports: [ToggleSwitch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-toggleswitch [inputId]="id" [disabled]="disabled()" (onChange)="take($event.checked)" />
    <label [for]="id"><ng-content /></label>
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 7px;
      min-height: 26px;
      font-size: 13px;
    }
    p-toggleswitch {
      flex: none;
    }
    label {
      cursor: pointer;
    }
  `,
})
export class Switch {
  readonly on = input.required<boolean>();
  readonly disabled = input(false);
  readonly turned = output<boolean>();

  protected readonly id = `rondo-switch-${(count += 1)}`;
  private readonly field = viewChild.required(ToggleSwitch);
  private readonly injector = inject(Injector);

  constructor() {
    afterRenderEffect({ write: () => this.show() });
  }

  protected take(on: boolean): void {
    if (on !== this.on()) this.turned.emit(on);
    afterNextRender({ write: () => this.show() }, { injector: this.injector });
  }

  private show(): void {
    this.field().writeValue(this.on());
  }
}
