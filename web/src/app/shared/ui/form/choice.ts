import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  Injector,
  afterNextRender,
  computed,
  afterRenderEffect,
  inject,
  input,
  output,
  viewChild,
} from '@angular/core';
import { Select, type SelectChangeEvent } from 'primeng/select';

/** Something that can be chosen. */
export interface Option<T extends string | number = string | number> {
  readonly value: T;
  readonly label: string;
}

/** More than this many are looked through by typing. */
const MANY = 12;

/**
 * One of a list. It shows what it was given and nothing else: what was chosen is told, and shown once whoever owns the value
 * has taken it.
 */
@Component({
  selector: 'rondo-choice',
  imports: [Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-select
      size="small"
      appendTo="body"
      optionLabel="label"
      optionValue="value"
      emptyFilterMessage="Nothing of that name."
      emptyMessage="Nothing to choose."
      [options]="list()"
      [filter]="isLong()"
      [ariaLabel]="label()"
      [ariaFilterLabel]="'Find in: ' + label()"
      [placeholder]="placeholder()"
      [disabled]="disabled()"
      (onChange)="take($event)"
    />
  `,
  styles: `
    :host {
      display: inline-flex;
      max-width: 230px;
    }
    p-select {
      min-width: 0;
      width: 100%;
    }
  `,
})
export class Choice<T extends string | number> {
  /** What is chosen, for those who do not see it. */
  readonly label = input.required<string>();
  readonly options = input.required<readonly Option<T>[]>();
  /** What is chosen; null for nothing. */
  readonly value = input.required<T | null>();
  readonly placeholder = input('');
  readonly disabled = input(false);
  readonly chosen = output<T>();

  protected readonly list = computed(() => [...this.options()]);
  protected readonly isLong = computed(() => this.options().length > MANY);
  private readonly field = viewChild.required(Select);
  private readonly injector = inject(Injector);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  constructor() {
    afterRenderEffect({ write: () => this.show() });
  }

  protected take({ originalEvent, value }: SelectChangeEvent): void {
    const chosen = value as T;
    if (chosen !== this.value()) this.chosen.emit(chosen);
    afterNextRender({ write: () => this.show() }, { injector: this.injector });
    // Who chose with the mouse goes on with the page: its keys are not for the list any more.
    if (originalEvent instanceof MouseEvent) queueMicrotask(() => this.leave());
  }

  private leave(): void {
    const { activeElement } = document;
    if (activeElement instanceof HTMLElement && this.host.contains(activeElement))
      activeElement.blur();
  }

  private show(): void {
    // The list first: what is shown is looked up in it.
    this.list();
    this.field().writeValue(this.value());
  }
}
