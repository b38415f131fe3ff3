import { Injectable, signal } from '@angular/core';

/** Where a number goes that was typed into a field: to its limit; null where it is no number at all. */
export function taken(typed: string, min: string, max: string): number | null {
  const value = typed.trim() === '' ? NaN : Number(typed);
  if (!Number.isFinite(value)) return null;
  const low = min === '' ? -Infinity : Number(min);
  const high = max === '' ? Infinity : Number(max);
  return Math.max(low, Math.min(high, value));
}

/**
 * What holds for every field for a number, wherever it stands: a value out of its range is brought to the limit before
 * anybody reads it, and the field shows that and says so; what is no number leaves it as it was.
 */
@Injectable({ providedIn: 'root' })
export class NumberFields {
  /** What was last brought to a limit, for those who do not see it. */
  readonly said = signal('');
  /** What each field had before it was typed into. */
  private readonly before = new WeakMap<HTMLInputElement, string>();

  constructor() {
    // Before the fields' own listeners: they read what is shown.
    document.addEventListener('focusin', (event) => this.entered(event), true);
    document.addEventListener('change', (event) => this.changed(event), true);
    document.addEventListener('input', ({ target }) => this.forget(target), true);
  }

  private entered({ target }: Event): void {
    const field = fieldOf(target);
    if (field) this.before.set(field, field.value);
  }

  private changed(event: Event): void {
    const field = fieldOf(event.target);
    if (!field) return;
    const value = taken(field.value, field.min, field.max);
    if (value === null) {
      const isOptional = field.value === '' && field.validity.valid && field.placeholder !== '';
      if (isOptional) return;
      field.value = this.before.get(field) ?? '';
      event.stopPropagation();
      this.tell(field, 'That is no number: it stays as it was.');
      return;
    }
    if (value !== Number(field.value)) {
      field.value = String(value);
      this.tell(
        field,
        `Brought to ${value}, ${value === Number(field.max) ? 'the most' : 'the least'}.`,
      );
    }
    this.before.set(field, field.value);
  }

  private tell(field: HTMLInputElement, sentence: string): void {
    field.classList.add('limited');
    field.title = sentence;
    this.said.set(sentence);
  }

  private forget(target: EventTarget | null): void {
    const field = fieldOf(target);
    if (!field?.classList.contains('limited')) return;
    field.classList.remove('limited');
    field.title = '';
    this.said.set('');
  }
}

function fieldOf(target: EventTarget | null): HTMLInputElement | null {
  return target instanceof HTMLInputElement && target.type === 'number' ? target : null;
}
