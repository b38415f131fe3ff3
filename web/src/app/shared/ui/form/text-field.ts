import {
  Directive,
  ElementRef,
  Injector,
  afterNextRender,
  effect,
  inject,
  input,
} from '@angular/core';

/**
 * The text that a field shows. What is being typed is never written over from behind, and a text that is chosen whole stays
 * chosen when it changes: whoever types next replaces all of it. What was not taken is put back.
 */
@Directive({
  selector: 'input[rondoText], textarea[rondoText]',
  host: { '(input)': 'isTyped = true', '(change)': 'rest()', '(blur)': 'rest()' },
})
export class TextField {
  readonly rondoText = input.required<string>();
  protected isTyped = false;
  private readonly field =
    inject<ElementRef<HTMLInputElement | HTMLTextAreaElement>>(ElementRef).nativeElement;
  private readonly injector = inject(Injector);

  constructor() {
    effect(() => this.show(this.rondoText()));
  }

  /** Typing has come to an end: the field shows what has become of it. */
  protected rest(): void {
    this.isTyped = false;
    afterNextRender({ write: () => this.show(this.rondoText()) }, { injector: this.injector });
  }

  private show(text: string): void {
    const { field } = this;
    if (this.isTyped || field.value === text) return;
    const isChosen =
      field.ownerDocument.activeElement === field &&
      field.selectionStart === 0 &&
      field.selectionEnd === field.value.length;
    field.value = text;
    if (isChosen) field.select();
  }
}
