import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  inject,
  input,
  output,
} from '@angular/core';
import { Button } from 'primeng/button';
import { Menu } from 'primeng/menu';
import type { Option } from './choice';

/** Something that is done to one of a list: nothing happens before one is pressed. */
@Component({
  selector: 'rondo-act-menu',
  imports: [Button, Menu],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-button
      size="small"
      severity="secondary"
      [outlined]="true"
      [disabled]="options().length === 0"
      (onClick)="menu.toggle($event)"
    >
      {{ label() }} <i class="pi pi-chevron-down" aria-hidden="true"></i>
    </p-button>
    <p-menu #menu [popup]="true" appendTo="body" [model]="items()" [ariaLabel]="label()" />
  `,
})
export class ActMenu<T extends string | number> {
  readonly label = input.required<string>();
  readonly options = input.required<readonly Option<T>[]>();
  readonly chosen = output<T>();
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  protected readonly items = computed(() =>
    this.options().map(({ value, label }) => ({
      label,
      command: () => {
        this.chosen.emit(value);
        // At once: the menu fades, and what is pressed next is not for it.
        queueMicrotask(() => this.host.querySelector('button')?.focus());
      },
    })),
  );
}
